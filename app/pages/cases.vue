<script setup lang="ts">
import type { CasePart } from '~/cases/useCases'
import { UNITS_HERE } from '~/units/useUnits'

/** The cases of the person's part of the tree, each with the line that its register defines. */
const words = useWords()
const { t } = words
const registers = useLoad(() => callApi('GET /api/desk/registers', {}))
const shown = ref<string | null>(null)
const load = usePages(
  (after?: { id: string }) =>
    callApi('GET /api/cases', { query: { register: shown.value ?? undefined, after: after?.id } }),
  () => shown.value,
)
const options = computed(() => [
  { value: null as string | null, label: t('cases.allRegisters') },
  ...(registers.data.value ?? []).map(one => ({
    value: one.register as string | null,
    label: words.say(one.definition.name),
  })),
])
const tree = useLoad(allPlaces)
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const { lineOf, titleOf } = useAnswerText(units)
type Line = AnswerOf<'GET /api/cases'>['lines'][number]
const partsOf = ({ register, answers }: Line): CasePart[] => {
  const definition = registers.data.value?.find(one => one.register === register)?.definition
  return definition ? lineOf(definition, code => answers[code]) : []
}
const nameOf = (register: string) =>
  words.say(registers.data.value?.find(one => one.register === register)?.definition.name ?? { en: register })
const route = useRoute()
const router = useRouter()
const chosen = computed(() => (typeof route.query.case === 'string' ? route.query.case : null))
const open = (id: string) => router.push({ query: { ...route.query, case: id } })
const restOf = (one: Line) =>
  partsOf(one)
    .slice(2)
    .filter(part => part.text)
    .map(part => `${part.label} ${part.text}`)
    .join(' · ')
</script>

<template>
  <div class="page">
    <PageHead :title="t('cases.title')"
      ><NuxtLink to="/gather">{{ t('place.gather') }}</NuxtLink></PageHead
    >
    <div class="fields filter">
      <PickOne
        v-model="shown"
        input-id="cases-register"
        :label="t('bundle.kind.register')"
        :options="options"
      />
    </div>
    <LoadState
      v-slot="{ data }"
      :load="load"
      :empty="load.data.value?.lines.length === 0"
      :empty-text="t('cases.noneInOffice')"
    >
      <div :class="{ beside: chosen }">
        <DataTable :value="data.lines" data-key="id">
          <Column :header="t('cases.case')"
            ><template #body="{ data: one }"
              ><button type="button" class="textual" :aria-expanded="chosen === one.id" @click="open(one.id)">
                <strong>{{ titleOf(partsOf(one)) }}</strong>
              </button>
              <p class="small quiet">{{ restOf(one) }}</p></template
            ></Column
          >
          <Column :header="t('bundle.kind.register')"
            ><template #body="{ data: one }">{{ nameOf(one.register) }}</template></Column
          >
          <Column :header="t('tryOut.facility')"
            ><template #body="{ data: one }">{{ one.unit.name }}</template></Column
          >
          <Column :header="t('cases.last')"
            ><template #body="{ data: one }"
              >{{ words.plainDay(one.lastOn) }}
              <p class="small quiet">
                {{ t('cases.entries', { count: one.entries }, one.entries) }}
              </p></template
            ></Column
          >
        </DataTable>
        <aside v-if="chosen"><CasePanel :id="chosen" /></aside>
      </div>
      <Button
        v-if="data.more"
        :label="t('act.showMore')"
        severity="secondary"
        text
        @click="load.showMore()"
      />
    </LoadState>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(320px, 2fr);
  gap: 16px;
  align-items: start;
}
@media (width < 1024px) {
  .beside {
    grid-template-columns: 1fr;
  }
}
.filter {
  margin-bottom: 12px;
}
</style>
