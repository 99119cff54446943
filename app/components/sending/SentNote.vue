<script setup lang="ts">
import type { SendingLine } from '#core/contract/sending'
import type { Tone } from '~/components/common/WordTag.vue'

/** One sending: how far it is, its receipt, and what was refused of it. */
const { line, isNewest } = defineProps<{
  line: SendingLine
  /** What something newer followed is not tried again. */
  isNewest: boolean
  recipient: string
  round: string
  dataset: string
}>()
const emit = defineEmits<{ act: [what: 'again' | 'stop'] }>()
const words = useWords()
const { t } = words
const session = useSession()
const deliverySays = useDeliveryWords()
const TONES: Readonly<Record<SendingLine['state'], Tone>> = {
  ...({ waiting: 'amber', sending: 'amber', taken: 'moss', stopped: 'plain' } as const),
  ...({ partly: 'brick', refused: 'brick', failed: 'brick' } as const),
}
const placeOf = ({ unit, cellName, cell }: SendingLine['refusals'][number]) =>
  words.pair(unit!.name, cellName ? words.say(cellName) : (cell ?? ''))
/** What the recipient says of what it refused as a whole, or why it was not reached. */
const problem = computed(() => {
  if (!line.problem || line.state === 'refused') return line.problem ?? ''
  return deliverySays(line.problem) ?? line.problem
})
const isMoving = computed(() => line.state === 'waiting' || line.state === 'sending')
/** Called as at the signatures themselves. */
const signature = computed(() =>
  line.amendment > 1 ? t('sign.amendment', { number: line.amendment - 1 }) : t('sign.signed'),
)
const name = computed(() =>
  line.part > 1 ? t('sending.part', { signature: signature.value, part: line.part }) : signature.value,
)
</script>

<template>
  <div class="sending">
    <p>
      <WordTag :tone="TONES[line.state]">{{ t(`sending.state.${line.state}`) }}</WordTag> {{ name }}
    </p>
    <p class="small quiet">
      {{
        t(
          'sending.by',
          { by: line.askedBy, at: words.moment(line.askedAt), values: words.number(line.values) },
          line.values,
        )
      }}
    </p>
    <p v-if="line.receipt" class="small">
      {{ t('sending.receipt', { receipt: line.receipt, at: words.moment(line.answeredAt ?? line.askedAt) }) }}
      <a
        v-if="session.can('extract')"
        :href="addressOf('GET /api/sendings/:id/document', { params: { id: line.id } })"
        download
        >{{ t('sending.document') }}</a
      >
    </p>
    <p v-if="line.leftOut || line.noNumbers" class="small quiet">
      {{ t('sending.without', { leftOut: line.leftOut, noNumbers: line.noNumbers }) }}
    </p>
    <p v-if="problem" class="small problem">{{ problem }}</p>
    <p v-if="isMoving && line.problem && line.nextAt" class="small quiet">
      {{ t('sending.next', { at: words.moment(line.nextAt), tries: line.tries }, line.tries) }}
    </p>
    <div v-if="session.can('sign')" class="row">
      <Button
        v-if="isNewest && (line.state === 'failed' || line.state === 'stopped')"
        size="small"
        severity="secondary"
        outlined
        :label="t('act.tryAgain')"
        @click="emit('act', 'again')"
      /><Button
        v-if="isMoving"
        size="small"
        severity="secondary"
        text
        :label="t('jobs.stop')"
        @click="emit('act', 'stop')"
      />
    </div>
    <details v-if="line.refusals.length" :open="line.refusals.some(({ over }) => !over)">
      <summary>{{ t('sending.refusals', { count: line.refusalCount }, line.refusalCount) }}</summary>
      <ul>
        <li v-for="(one, at) in line.refusals" :key="at" class="small">
          <template v-if="one.unit">
            <NuxtLink v-if="one.discrepancy" :to="`/resolve/${one.discrepancy}`">{{ placeOf(one) }}</NuxtLink>
            <NuxtLink
              v-else-if="one.about === 'code' && session.can('operate')"
              :to="`/recipients/${recipient}?dataset=${dataset}`"
              >{{ placeOf(one) }}</NuxtLink
            >
            <NuxtLink v-else :to="`/facility/${round}/${one.unit.code}`">{{ placeOf(one) }}</NuxtLink>
          </template>
          <span v-else>{{ one.place }}</span>
          <p>
            {{ one.message }} <span v-if="one.over" class="quiet">{{ t('sending.over') }}</span>
          </p>
        </li>
      </ul>
      <p v-if="line.refusalCount > line.refusals.length" class="small quiet">
        {{ t('sign.more', { count: line.refusalCount - line.refusals.length }) }}
      </p>
    </details>
  </div>
</template>

<style scoped>
.sending {
  display: flex;
  flex-direction: column;
  gap: 4px;
  padding-top: 8px;
  border-top: 1px solid var(--line);
}
.problem {
  color: var(--brick-7);
}
ul {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
</style>
