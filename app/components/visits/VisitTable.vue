<script setup lang="ts">
import type { VisitLine, VisitMove } from '#core/contract/visits'

/** Visits with why they are made and what came of them; what can be done with each. */
const { lines, withUnit = true } = defineProps<{ lines: readonly VisitLine[]; withUnit?: boolean }>()
const emit = defineEmits<{ move: [visit: VisitLine, to: VisitMove['to']] }>()
const words = useWords()
const { t } = words
const today = words.today()
const isOver = ({ state, plannedFor }: VisitLine) =>
  state === 'planned' && Math.floor(Date.parse(plannedFor) / 86_400_000) < today
const MOVES = { planned: ['made', 'dropped'], made: ['planned'], dropped: ['planned'] } as const
</script>

<template>
  <DataTable :value="[...lines]" data-key="id" :table-props="{ 'aria-label': t('visits.title') }">
    <Column :header="t('visits.day')" class="day"
      ><template #body="{ data: one }"
        >{{ words.plainDay(one.madeOn ?? one.plannedFor) }}
        <p v-if="isOver(one)">
          <WordTag tone="brick">{{ t('visits.over') }}</WordTag>
        </p>
        <p class="small quiet">{{ one.madeBy ?? one.plannedBy }}</p></template
      ></Column
    >
    <Column v-if="withUnit" :header="t('board.facility')"
      ><template #body="{ data: one }"
        ><NuxtLink :to="facilityFileLink(one.unit.code)">{{ one.unit.name }}</NuxtLink></template
      ></Column
    >
    <Column :header="t('visits.reasons')"
      ><template #body="{ data: one }"
        ><VisitReasons class="small" :reasons="one.reasons" />
        <p v-if="one.note">{{ one.note }}</p></template
      ></Column
    >
    <Column :header="t('visits.became')"
      ><template #body="{ data: one }"
        ><p v-if="one.state === 'dropped'">
          <WordTag>{{ t('visits.state.dropped') }}</WordTag>
        </p>
        <p v-if="one.outcome">{{ one.outcome }}</p>
        <p v-if="one.recounted" class="small">
          {{ t('visits.recounted', { count: one.recounted }, one.recounted) }}
        </p>
        <p v-if="one.forms" class="small">
          {{ t('visits.forms', { count: one.forms }, one.forms) }}
        </p></template
      ></Column
    >
    <Column
      ><template #header
        ><span class="visually-hidden">{{ t('visits.acts') }}</span></template
      ><template #body="{ data: one }"
        ><div class="acts">
          <NuxtLink
            v-if="one.state !== 'dropped'"
            :to="{ path: recountLink(one.unit.code), query: { visit: one.id } }"
            >{{ t('recount.open') }}</NuxtLink><Button
            v-for="to in MOVES[(one as VisitLine).state]"
            :key="to"
            size="small"
            severity="secondary"
            text
            :label="t(`visits.do.${to}`)"
            @click="emit('move', one, to)"
          /></div></template
    ></Column>
  </DataTable>
</template>

<style scoped>
:deep(td.day) {
  min-width: 120px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 8px;
}
</style>
