<script setup lang="ts">
import type { Section } from '#core/report/edition'
import type { DraftWork } from '~/define/useDraft'
import type { Units } from '~/units/useUnits'

/**
 * What one facility does not offer of a dataset: its cells are then answered *not offered here* before
 * anybody types.
 */
const { work, units, dataset, today } = defineProps<{
  work: DraftWork
  units: Units
  dataset: string
  today: string
}>()
const words = useWords()
const { t } = words
const unit = ref<string | null>(null)
const from = ref(`${today.slice(0, 7)}-01`)
const without = ref<string[]>([])
const saved = ref(false)
const { busy, problem, run } = useAct()
const load = useLoad(
  async () =>
    unit.value
      ? callApi('GET /api/services/:dataset/:unit', { params: { dataset, unit: unit.value } })
      : null,
  () => unit.value,
)
watch(
  () => load.data.value,
  next => {
    without.value = (next?.notOffered ?? []).filter(({ to }) => to === null).map(({ item }) => item)
  },
)
watch(unit, () => {
  saved.value = false
})
const all = (section: Section) => section.items.every(item => !without.value.includes(item.code))
function whole(section: Section, offered: boolean) {
  const codes = section.items.map(({ code }) => code)
  without.value = offered
    ? without.value.filter(code => !codes.includes(code))
    : [...new Set([...without.value, ...codes])]
}
function one(code: string, offered: boolean) {
  without.value = offered ? without.value.filter(other => other !== code) : [...without.value, code]
}
async function save() {
  saved.value = await run(() =>
    callApi('PUT /api/services/:dataset/:unit', {
      params: { dataset, unit: unit.value! },
      body: { from: from.value, items: without.value },
    }),
  )
  if (saved.value) await load.reload()
}
const checked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <section class="card stack">
    <h2>{{ t('services.title') }}</h2>
    <p class="small quiet">{{ t('services.hint') }}</p>
    <div class="fields">
      <div class="field wide">
        <label for="services-unit">{{ t('tryOut.facility') }}</label><UnitPicker
          v-model="unit"
          input-id="services-unit"
          :units="units"
        />
      </div>
    </div>
    <LoadState v-if="unit" :load="load" :empty="false">
      <form class="stack" @submit.prevent="save">
        <fieldset v-for="section in work.draft.value!.sections" :key="section.code" class="plain">
          <legend>
            <label
              ><input type="checkbox" :checked="all(section)" @change="whole(section, checked($event))" />
              {{ words.say(section.name) }}</label
            >
          </legend>
          <div class="items">
            <label v-for="item in section.items" :key="item.code"
              ><input
                type="checkbox"
                :checked="!without.includes(item.code)"
                @change="one(item.code, checked($event))"
              />
              {{ words.say(item.name) }}</label
            >
          </div>
        </fieldset>
        <div class="fields">
          <div class="field">
            <label for="services-from">{{ t('units.day') }}</label><DayField
              v-model="from"
              input-id="services-from"
              required
            />
          </div>
          <Button type="submit" :label="t('services.save')" :loading="busy" />
        </div>
        <ProblemNote :problem="problem" />
        <Message v-if="saved" severity="success" :closable="false">{{ t('services.saved') }}</Message>
      </form>
    </LoadState>
  </section>
</template>

<style scoped>
.items {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 2px 14px;
  padding-left: 22px;
}
.fields {
  align-items: flex-end;
}
</style>
