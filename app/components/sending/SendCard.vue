<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import type { RecipientOfReport } from '#core/contract/sending'

/** A signed report on its way to other systems: sent on, what became of it, and what they refused. */
const { round, unit, dataset, signatures } = defineProps<{
  round: string
  unit: string
  dataset: string
  /** How many times it was signed: the newest is sent. */
  signatures: number
}>()
const { t } = useI18n()
const session = useSession()
const load = useLoad(
  () => callApi('GET /api/district-reports/:round/sendings', { params: { round }, query: { unit } }),
  () => [round, unit, signatures],
)
const { busy, problem, run } = useAct()
const send = (recipient: RecipientOfReport) =>
  run(async () => {
    await callApi('POST /api/district-reports/:round/sendings', {
      params: { round },
      body: { unit, recipient: recipient.id },
    })
    await load.reload()
  })
const act = (id: string, what: 'again' | 'stop') =>
  run(async () => {
    await (what === 'again'
      ? callApi('POST /api/sendings/:id/again', { params: { id } })
      : callApi('POST /api/sendings/:id/stop', { params: { id } }))
    await load.reload()
  })
/** What moves is looked at often. */
const MOVING_MS = 2_000
const isMoving = computed(() =>
  load.data.value?.recipients.some(({ sendings: [newest] }) =>
    ['waiting', 'sending'].includes(newest?.state ?? ''),
  ),
)
useIntervalFn(() => isMoving.value && void load.reload(), MOVING_MS)
const isShown = computed(() => load.data.value?.recipients.length || session.can('operate'))
</script>

<template>
  <section v-if="isShown || load.problem.value" class="card stack" aria-labelledby="send-on">
    <h2 id="send-on">{{ t('sending.title') }}</h2>
    <LoadState v-slot="{ data }" :load="load">
      <p v-if="!data.recipients.length" class="small quiet">{{ t('sending.noRecipient') }}</p>
      <div v-for="one in data.recipients" :key="one.id" class="stack">
        <div class="row head">
          <h3>{{ one.name }}</h3>
          <span class="small quiet">{{ t(`recipient.as.${one.format}`) }}</span>
        </div>
        <p v-if="one.lack === 'codes'" class="small problem">
          {{ t('sending.lacking', { count: one.lacking }, one.lacking) }}
          <NuxtLink
            v-if="session.can('operate')"
            :to="`/recipients/${one.id}?dataset=${dataset}&show=lacking`"
            >{{ t('sending.mend') }}</NuxtLink
          >
        </p>
        <Button
          v-if="session.can('sign') && one.lack === null"
          icon="pi pi-send"
          severity="secondary"
          outlined
          :label="t(one.onlyRefused ? 'sending.sendRefused' : 'sending.send')"
          :aria-label="`${t(one.onlyRefused ? 'sending.sendRefused' : 'sending.send')}: ${one.name}`"
          :loading="busy"
          @click="send(one)"
        />
        <p v-else-if="one.lack === 'notSigned'" class="small quiet">{{ t('sending.notSigned') }}</p>
        <SentNote
          v-for="(line, at) in one.sendings"
          :key="line.id"
          :line="line"
          :is-newest="at === 0"
          :recipient="one.id"
          :round="round"
          :dataset="dataset"
          @act="act(line.id, $event)"
        />
      </div>
      <ProblemNote :problem="problem" />
      <NuxtLink v-if="session.can('operate')" class="small" to="/recipients">{{
        t('recipient.title')
      }}</NuxtLink>
    </LoadState>
  </section>
</template>

<style scoped>
.head {
  gap: 8px;
  align-items: baseline;
}
.problem {
  color: var(--brick-7);
}
</style>
