<script setup lang="ts">
import type { NudgeLine, NudgeState } from '#core/contract/nudges'
import type { Tone } from '~/components/common/WordTag.vue'

/** Reminders, and what became of each. */
const { lines, withUnit = true } = defineProps<{ lines: readonly NudgeLine[]; withUnit?: boolean }>()
const emit = defineEmits<{ stop: [id: string] }>()
const words = useWords()
const { t } = words
const TONES: Readonly<Record<NudgeState, Tone>> = {
  ...{ waiting: 'amber', sending: 'amber', taken: 'dusk', delivered: 'moss', notDelivered: 'brick' },
  ...{ refused: 'brick', failed: 'brick', stopped: 'plain', needless: 'plain' },
}
/** Problems of ours have words; what a gateway says stands as it said it. */
const KNOWN = new Set(['gateway', 'no-answer', 'no-word', 'forgotten'])
const problemText = ({ problem }: NudgeLine) =>
  problem && KNOWN.has(problem) ? t(`nudge.problem.${problem}`) : (problem ?? '')
const whenText = ({ endedAt, nextAt, state }: NudgeLine) => {
  if (endedAt) return words.moment(endedAt)
  return nextAt && state !== 'taken' ? t('nudge.next', { at: words.moment(nextAt) }) : ''
}
</script>

<template>
  <DataTable :value="[...lines]" data-key="id" :table-props="{ 'aria-label': t('nudge.log') }">
    <Column :header="t('nudge.askedAt')" class="asked"
      ><template #body="{ data: one }"
        >{{ words.moment(one.askedAt) }}
        <p class="small quiet">{{ one.askedBy }}</p></template
      ></Column
    >
    <Column v-if="withUnit" :header="t('board.facility')"
      ><template #body="{ data: one }"
        ><NuxtLink :to="facilityFileLink(one.unit.code)">{{ one.unit.name }}</NuxtLink>
        <p class="small quiet">{{ one.name }}, {{ one.phone }}</p></template
      ></Column
    >
    <Column v-else :header="t('contacts.who')"
      ><template #body="{ data: one }"
        >{{ one.name }}
        <p class="small quiet">{{ one.phone }}</p></template
      ></Column
    >
    <Column :header="t('nudge.message')"
      ><template #body="{ data: one }"
        ><span class="small">{{ one.text }}</span></template
      ></Column
    >
    <Column :header="t('nudge.became')"
      ><template #body="{ data: one }"
        ><WordTag :tone="TONES[(one as NudgeLine).state]">{{ t(`nudge.state.${one.state}`) }}</WordTag>
        <p class="small quiet">{{ whenText(one) }}</p>
        <p v-if="one.problem" class="small">{{ problemText(one) }}</p></template
      ></Column
    >
    <Column
      ><template #header
        ><span class="visually-hidden">{{ t('act.stop') }}</span></template
      ><template #body="{ data: one }"
        ><Button
          v-if="one.state === 'waiting'"
          size="small"
          severity="secondary"
          text
          :label="t('act.stop')"
          @click="emit('stop', one.id)" /></template
    ></Column>
  </DataTable>
</template>

<style scoped>
:deep(td.asked) {
  min-width: 130px;
}
</style>
