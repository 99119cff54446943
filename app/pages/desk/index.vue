<script setup lang="ts">
import type { DueReport } from '#core/contract/rounds'
import { groupBy } from '#core/group-by'
import { useCaseQuestions } from '~/device/useQuestionAnswer'

/** What this facility has to report. Nobody picks unit, dataset and period from lists. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const desk = useDesk()
const due = useLoad(
  () => cachedFetch('due', () => callApi('GET /api/due', {})),
  () => desk.changes.value,
)
/** What of each report is only on this device: values, or the sending itself. */
const here = useLoad(
  async () => {
    const places = new Map<string, 'values' | 'sending'>()
    for (const { place, change } of await useDeskStore().changes.where('state', 'waiting'))
      if (places.get(place) !== 'sending') places.set(place, change.kind === 'send' ? 'sending' : 'values')
    return places
  },
  () => desk.changes.value,
)
const waitsOf = ({ round, unit }: DueReport) => here.data.value?.get(reportPlace(round.id, unit.code)) ?? null

/** How many questions about cases wait for an answer. Those about reports stand with their reports. */
const caseQuestions = useCaseQuestions()
const aboutCases = computed(
  () => caseQuestions.data.value?.filter(({ line }) => line.state === 'asked').length ?? 0,
)

const SECTIONS = ['now', 'closed', 'sent'] as const
/** Of each facility and dataset: those that are late first, then in the order of their newest reports. */
function groupsOf(reports: readonly DueReport[]) {
  const own = due.data.value?.unit.code
  const isLate = ([, group]: [string, DueReport[]]) => group.some(({ sign }) => sign === 'overdue')
  const groups = [...groupBy(reports, ({ round, unit }) => `${unit.code} ${round.dataset}`)].sort(
    (one, other) => Number(isLate(other)) - Number(isLate(one)),
  )
  return groups.map(([key, group]) => {
    const { round, unit } = group[0]!
    const title = [unit.code === own ? null : unit.name, words.say(round.name)].filter(Boolean).join(' · ')
    return { key, reports: group, title: groups.length > 1 || unit.code !== own ? title : null }
  })
}
</script>

<template>
  <div>
    <DeskHead :title="due.data.value?.unit.name ?? t('place.due')">{{
      desk.waiting.value
        ? t('due.waiting', { count: desk.waiting.value }, desk.waiting.value)
        : t('due.nothingWaiting')
    }}</DeskHead>
    <main class="list">
      <NuxtLink v-if="desk.needsYou.value" to="/desk/needs-you" class="needs"
        ><i class="pi pi-exclamation-triangle" aria-hidden="true" /><span>{{
          t('needsYou.count', { count: desk.needsYou.value }, desk.needsYou.value)
        }}</span
        ><i class="pi pi-angle-right" aria-hidden="true"
      /></NuxtLink>
      <NuxtLink v-if="aboutCases" to="/desk/questions" class="asks"
        ><i class="pi pi-comment" aria-hidden="true" /><span>{{
          t('caseDoubts.asked', { count: aboutCases }, aboutCases)
        }}</span
        ><i class="pi pi-angle-right" aria-hidden="true"
      /></NuxtLink>
      <LoadState v-slot="{ data }" :load="due">
        <template v-for="part in SECTIONS" :key="part">
          <template v-if="part === 'now' || data[part]?.length">
            <h2>
              {{ t(`due.${part}`) }}
              <span v-if="data[part]?.length" class="quiet">· {{ data[part].length }}</span>
            </h2>
            <p v-if="part === 'closed'" class="quiet small">{{ t('due.closedHint') }}</p>
            <p v-if="!data[part]?.length" class="quiet">{{ t('due.nothing') }}</p>
            <DueGroup
              v-for="group in groupsOf(data[part] ?? [])"
              :key="group.key"
              :part="t(`due.${part}`)"
              :title="group.title"
              :reports="group.reports"
              :waits-of="waitsOf"
            />
          </template>
          <template v-if="part === 'closed' && (data.coming.length || data.ahead?.length)">
            <h2>{{ t('due.coming') }}</h2>
            <DueGroup
              v-for="group in groupsOf(data.ahead ?? [])"
              :key="group.key"
              :part="t('due.coming')"
              :title="null"
              :reports="group.reports"
              :first="1"
              :waits-of="waitsOf"
            />
            <div v-for="next in data.coming" :key="next.dataset + next.period" class="coming">
              <LanternSign sign="awaited" :size="30" />
              <span
                ><strong>{{ words.say(next.name) }}, {{ words.period(next.period) }}</strong
                ><br /><span class="small quiet">{{
                  t('due.opens', { opens: words.day(next.opensAt), due: words.dueDay(next.dueAt) })
                }}</span></span
              >
            </div>
          </template>
        </template>
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.list {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
h2 {
  margin-top: 8px;
}
.coming {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 12px 14px;
  border: 1px solid var(--line);
  border-radius: 12px;
}
.needs,
.asks {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 48px;
  padding: 10px 14px;
  border: 1px solid var(--brick-7);
  border-radius: 12px;
  background: var(--brick-0);
  color: var(--brick-7);
  font-weight: 600;
  text-decoration: none;
}
.asks {
  border-color: var(--amber-5);
  background: var(--amber-1);
  color: var(--ink-7);
}
.needs span,
.asks span {
  flex: 1;
}
</style>
