<script setup lang="ts">
/** What this facility has to report. Nobody picks unit, dataset and period from lists. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const session = useSession()
const device = useDeviceStore()
const due = useLoad(async () => {
  const KEPT = `${session.view!.person.id}|due`
  try {
    const list = await callApi('GET /api/due', {})
    localStorage.setItem(KEPT, JSON.stringify(list))
    return list
  }
  catch (error) {
    const kept = localStorage.getItem(KEPT)
    if (error instanceof ApiProblem && error.unreachable && kept) return JSON.parse(kept) as AnswerOf<'GET /api/due'>
    throw error
  }
})
const waiting = ref(0)
onMounted(async () => { waiting.value = await device.changes.count() })
</script>

<template>
  <div>
    <DeskHead :title="due.data.value?.unit.name ?? t('place.due')">{{ waiting ? t('due.waiting', { count: waiting }, waiting) : t('due.nothingWaiting') }}</DeskHead>
    <main class="list">
      <LoadState v-slot="{ data }" :load="due">
        <h2>{{ t('due.now') }}</h2>
        <p v-if="!data.now.length" class="quiet">{{ t('due.nothing') }}</p>
        <DueCard v-for="report in data.now" :key="report.round.id" :report="report" />
        <h2>{{ t('due.coming') }}</h2>
        <div v-for="next in data.coming" :key="next.dataset + next.period" class="coming">
          <LanternSign sign="awaited" :size="30" />
          <span><strong>{{ words.say(next.name) }}, {{ words.period(next.period) }}</strong><br><span class="small quiet">{{ t('due.opens', { opens: words.day(next.opensAt), due: words.dueDay(next.dueAt) }) }}</span></span>
        </div>
        <h2>{{ t('due.sent') }}</h2>
        <DueCard v-for="report in data.sent" :key="report.round.id" :report="report" />
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.list { max-width: 720px; margin: 0 auto; padding: 14px; display: flex; flex-direction: column; gap: 10px; }
h2 { margin-top: 8px; }
.coming { display: flex; align-items: center; gap: 14px; padding: 12px 14px; border: 1px solid var(--line); border-radius: 12px; }
</style>
