<script setup lang="ts">
import { unsaidOf } from '~/cases/useEntryDoubts'
import { FILES_HERE } from '~/device/useFilesHere'
import { UNITS_HERE } from '~/units/useUnits'

/** Enters a case form that a facility filled on paper: a new case, a further form, or a correction. */
const words = useWords()
const { t } = words
const route = useRoute()
const session = useSession()
const asked = askedIn(route.query)
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
// Files travel by the queue of a device, which the office has not.
provide(FILES_HERE, {
  store: () => Promise.reject(new HardwareFailed('not-at-office')),
  show: ({ hash }) => Promise.resolve(`/api/files/${hash}`),
})
const facilities = computed(() =>
  openFacilities(units, tree.data.value?.facilityLevel, session.view?.branch?.unit.code),
)
const paper = usePaperEntry(asked, units)
const { load, unit, paperOn } = paper
const lacks = computed(() => lacksOf(load.data.value?.work.filling.value))
const unsaid = computed(() => unsaidOf(paper.doubts.value, paper.explanations))
const looking = ref(false)
const today = words.today()
const isDayMissing = computed(
  () => !paperOn.value || Math.floor(Date.parse(paperOn.value) / 86_400_000) > today,
)

async function save() {
  looking.value = true
  if (lacks.value.length || unsaid.value.length || !unit.value || isDayMissing.value) return
  const found = await paper.save()
  if (found) await navigateTo(`/cases/${found}`)
}
const jump = (key: string) =>
  document.querySelector(`[data-question="${key}"]`)?.scrollIntoView({ block: 'center' })
</script>

<template>
  <div class="page">
    <PageHead :title="load.data.value ? words.say(load.data.value.name) : t('paperEntry.enter')"
      ><NuxtLink :to="asked.case ? `/cases/${asked.case}` : '/cases'">{{
        asked.case ? t('cases.case') : t('cases.title')
      }}</NuxtLink></PageHead
    >
    <LoadState v-slot="{ data }" :load="load">
      <div class="sheet card">
        <p class="quiet small">{{ t('paperEntry.note') }}</p>
        <div class="fields">
          <PickOne
            v-if="data.choosesUnit"
            v-model="unit"
            input-id="paper-unit"
            :label="t('paperEntry.unit')"
            :options="facilities"
          />
          <div class="field">
            <label for="paper-on">{{ t('paperEntry.on') }}</label>
            <DayField v-model="paperOn" input-id="paper-on" />
          </div>
        </div>
        <p v-if="looking && !unit" role="alert" class="wrong">{{ t('cases.forUnitMissing') }}</p>
        <p v-if="looking && isDayMissing" role="alert" class="wrong">{{ t('paperEntry.dayMissing') }}</p>
        <FormFiller :compiled="data.compiled" :work="data.work" />
        <LacksNote v-if="looking && lacks.length" :lacks="lacks" :compiled="data.compiled" @jump="jump" />
        <EntryDoubts
          v-if="paper.doubts.value.length"
          v-model="paper.explanations"
          :doubts="paper.doubts.value"
          :form="data.compiled"
          :register="data.register"
          :parent="data.parentRegister"
          :unsaid="looking ? unsaid.length : 0"
          @jump="jump"
        />
        <ProblemNote :problem="paper.problem.value" />
        <div>
          <Button
            :label="t('paperEntry.save')"
            icon="pi pi-check"
            :loading="paper.busy.value"
            @click="save"
          />
        </div>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.sheet {
  max-width: 760px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.wrong {
  color: var(--brick-7);
}
</style>
