<script setup lang="ts">
/** What this facility has to report. Nobody picks unit, dataset and period from lists. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const desk = useDesk()
const due = useLoad(() => toldBy('due', () => callApi('GET /api/due', {})), () => desk.changes.value)
/** What of each report is only on this device: values, or the sending itself. */
const here = useLoad(async () => {
  const places = new Map<string, 'values' | 'sending'>()
  for (const { place, change } of await useDeskStore().changes.where('state', 'waiting')) if (places.get(place) !== 'sending') places.set(place, change.kind === 'send' ? 'sending' : 'values')
  return places
}, () => desk.changes.value)
const waitsOf = ({ round, unit }: AnswerOf<'GET /api/due'>['now'][number]) => here.data.value?.get(reportPlace(round.id, unit.code)) ?? null
</script>

<template>
  <div>
    <DeskHead :title="due.data.value?.unit.name ?? t('place.due')">{{ desk.waiting.value ? t('due.waiting', { count: desk.waiting.value }, desk.waiting.value) : t('due.nothingWaiting') }}</DeskHead>
    <main class="list">
      <LoadState v-slot="{ data }" :load="due">
        <h2>{{ t('due.now') }}</h2>
        <p v-if="!data.now.length" class="quiet">{{ t('due.nothing') }}</p>
        <DueCard v-for="report in data.now" :key="report.round.id" :report="report" :waits="waitsOf(report)" />
        <h2>{{ t('due.coming') }}</h2>
        <div v-for="next in data.coming" :key="next.dataset + next.period" class="coming">
          <LanternSign sign="awaited" :size="30" />
          <span><strong>{{ words.say(next.name) }}, {{ words.period(next.period) }}</strong><br><span class="small quiet">{{ t('due.opens', { opens: words.day(next.opensAt), due: words.dueDay(next.dueAt) }) }}</span></span>
        </div>
        <h2>{{ t('due.sent') }}</h2>
        <DueCard v-for="report in data.sent" :key="report.round.id" :report="report" :waits="waitsOf(report)" />
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.list { max-width: 720px; margin: 0 auto; padding: 14px; display: flex; flex-direction: column; gap: 10px; }
h2 { margin-top: 8px; }
.coming { display: flex; align-items: center; gap: 14px; padding: 12px 14px; border: 1px solid var(--line); border-radius: 12px; }
</style>
