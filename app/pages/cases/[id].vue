<script setup lang="ts">
import { printDay } from '#core/calendar/day'
import type { CaseAct } from '#core/cases/life'
import type { PairLine } from '#core/contract/case-pairs'
import { UNITS_HERE } from '~/units/useUnits'

/** One case: what is known of it, now or on a day; its time line; and those that belong to it. */
const words = useWords()
const { t } = words
const route = useRoute()
const session = useSession()
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const { load, asOfDay, file, byId, formOf, known, follow, stories } = useCaseFile(() =>
  String(route.params.id),
)
const { byCode: registers } = useRegisters()
const { titleOfCase, titleOfSide, lineOf, titleOf } = useCaseLines(code => registers.value.get(code), units)
const title = computed(() => {
  const data = load.data.value
  return data
    ? titleOf(lineOf(data.definition, code => file.value.values.get(code)?.content))
    : t('cases.case')
})
/** Can cases belong to this one? */
const hasContacts = computed(() =>
  [...registers.value.values()].some(({ parent }) => parent === load.data.value?.register),
)
/** What can be entered from paper for this case: its further forms, and those of cases that belong to it. */
const further = computed(() => {
  const data = load.data.value
  if (!data) return []
  const filled = new Set(file.value.entries.map(({ form }) => form))
  const forms = data.definition.forms
    .filter(({ role, many, form }) => role !== 'registration' && (many || !filled.has(form.code)))
    .map(({ form }) => ({
      label: words.say(form.name),
      to: `/cases/fill?register=${data.register}&case=${data.id}&form=${form.code}`,
    }))
  const children = [...registers.value.values()]
    .filter(({ parent }) => parent === data.register)
    .map(({ code, name }) => ({
      label: words.say(name),
      to: `/cases/fill?register=${code}&parent=${data.id}`,
    }))
  return [...forms, ...children]
})
/** The cases that this one may be, or was merged with. */
const pairs = useLoad(
  () => callApi('GET /api/case-pairs', { query: { case: String(route.params.id) } }),
  () => route.params.id,
)
const otherSide = ({ one, other }: PairLine) => (one.id === load.data.value?.id ? other : one)
const today = words.today()
const late = computed(() => {
  const next = follow.value?.nextVisit ?? null
  return next === null ? null : today - next
})
const dayText = (day: number) => words.plainDay(printDay(day))
/** The day of its last event. */
const lastOn = computed(() => load.data.value?.entries.at(-1)?.happenedOn ?? null)
const print = () => window.print()
const { busy, problem, run } = useAct()
/** Moves, closes or opens the case, and reads it anew. */
const act = (given: CaseAct) =>
  run(async () => {
    await callApi('POST /api/cases/:case/acts', { params: { case: load.data.value!.id }, body: given })
    await load.reload()
  })
</script>

<template>
  <div class="page">
    <PageHead :title="title"
      ><NuxtLink to="/cases">{{ t('cases.title') }}</NuxtLink>
      <template #acts>
        <CaseActs
          v-if="load.data.value?.mine && session.can('manageCases')"
          :life="{ unit: load.data.value.unit.code, moves: [], closed: load.data.value.closed }"
          :last-on="lastOn"
          :units="units"
          :facility-level="tree.data.value?.facilityLevel"
          :save="act"
          :busy="busy"
          :problem="problem" />
        <Button
          class="no-print"
          severity="secondary"
          outlined
          icon="pi pi-print"
          :label="t('caseFile.print')"
          @click="print"
      /></template>
    </PageHead>
    <LoadState v-slot="{ data }" :load="load">
      <p class="facts">
        <span>{{ words.say(data.definition.name) }} · {{ data.unit.name }}</span>
        <span v-if="data.parent"
          >{{ t('caseFile.belongsTo') }}
          <NuxtLink :to="`/cases/${data.parent.id}`">{{ titleOfCase(data.parent) }}</NuxtLink></span
        >
        <template v-if="follow && late !== null">
          <WordTag v-if="late > 0" tone="brick">{{
            t('caseList.missedBy', { days: words.days(late) })
          }}</WordTag>
          <WordTag v-else-if="late === 0" tone="amber">{{ t('caseFile.visitToday') }}</WordTag>
          <WordTag v-else>{{ t('caseFile.nextVisit', { day: dayText(follow.nextVisit!) }) }}</WordTag>
        </template>
        <WordTag v-if="data.closed">{{
          t('caseLife.closedOn', {
            day: words.plainDay(data.closed.on),
            outcome: t(`caseLife.outcome.${data.closed.outcome}`),
          })
        }}</WordTag>
        <WordTag v-if="follow?.resultAwaited" tone="dusk">{{ t('caseList.need.resultAwaited') }}</WordTag>
      </p>
      <p v-if="data.forgottenAt" class="facts">
        {{ t('caseFile.forgotten', { day: words.moment(data.forgottenAt) }) }}
      </p>
      <p v-for="pair in pairs.data.value?.lines ?? []" :key="pair.id" class="facts">
        <span
          >{{ t(pair.state === 'merged' ? 'pairs.wasMerged' : 'pairs.mayBe') }}
          <NuxtLink :to="`/resolve/pairs?pair=${pair.id}`">{{ titleOfSide(otherSide(pair)) }}</NuxtLink></span
        >
        <WordTag :tone="pair.state === 'open' ? 'amber' : 'plain'">{{
          t(`pairs.state.${pair.state}`)
        }}</WordTag>
      </p>
      <div class="beside">
        <section class="card stack">
          <div class="spread">
            <h2>
              {{ asOfDay ? `${t('caseFile.knownOn')} ${words.plainDay(asOfDay)}` : t('caseFile.known') }}
            </h2>
            <span class="row no-print">
              <label for="case-as-of" class="small quiet">{{ t('caseFile.asOf') }}</label>
              <DayField v-model="asOfDay" input-id="case-as-of" />
              <Button
                v-if="asOfDay"
                severity="secondary"
                text
                size="small"
                :label="t('caseFile.now')"
                @click="asOfDay = ''"
              />
            </span>
          </div>
          <p v-if="!known.length" class="quiet" role="status">{{ t('caseFile.nothingThen') }}</p>
          <CaseKnown :parts="known" :by-id="byId" :form-of="formOf" :stories="stories" />
          <CaseDoubts v-if="!asOfDay" :case-id="data.id" />
          <template v-if="hasContacts">
            <h2>{{ t('caseFile.contacts') }}</h2>
            <CaseContacts
              :parent="data.id"
              :registers="registers"
              :label="t('caseFile.contactsOf', { case: title })"
            />
          </template>
        </section>
        <section class="card stack">
          <template v-if="data.life.length">
            <h2>{{ t('caseLife.title') }}</h2>
            <CaseLifeList :events="data.life" />
          </template>
          <h2>{{ t('caseFile.timeLine') }}</h2>
          <p v-if="session.can('enterPaper') && further.length" class="row no-print">
            <span class="small quiet">{{ t('paperEntry.add') }}</span>
            <NuxtLink v-for="one in further" :key="one.to" :to="one.to">{{ one.label }}</NuxtLink>
          </p>
          <CaseTimeLine
            :register="data.register"
            :entries="file.entries"
            :by-id="byId"
            :form-of="formOf"
            :facility="data.unit.name"
          />
        </section>
      </div>
      <CaseOpenings v-if="session.can('seeOpenings')" :id="data.id" :key="data.id" class="openings" />
    </LoadState>
  </div>
</template>

<style scoped>
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  margin: 0 0 12px;
}
.openings {
  margin-top: 16px;
}
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}
h2 {
  margin: 0;
}
@media (width < 1024px) {
  .beside {
    grid-template-columns: 1fr;
  }
}
@media print {
  .no-print {
    display: none;
  }
  .beside {
    display: block;
  }
}
</style>
