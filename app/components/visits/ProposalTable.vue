<script setup lang="ts">
import type { VisitProposal } from '#core/contract/visits'

/** Facilities that a visit would help, the one with the most reasons first. */
const { lines } = defineProps<{ lines: readonly VisitProposal[] }>()
const emit = defineEmits<{ plan: [proposal: VisitProposal] }>()
const words = useWords()
const { t } = words
</script>

<template>
  <DataTable
    :value="[...lines]"
    data-key="unit.code"
    :table-props="{ 'aria-label': t('visits.show.toVisit') }"
  >
    <Column :header="t('board.facility')"
      ><template #body="{ data: one }"
        ><NuxtLink :to="facilityFileLink(one.unit.code)">{{ one.unit.name }}</NuxtLink>
        <p class="small quiet">{{ one.zone.name }}</p></template
      ></Column
    >
    <Column :header="t('visits.reasons')"
      ><template #body="{ data: one }"><VisitReasons :reasons="one.reasons" /></template
    ></Column>
    <Column :header="t('visits.last')"
      ><template #body="{ data: one }">{{
        one.lastVisit ? words.plainDay(one.lastVisit) : t('visits.never')
      }}</template></Column
    >
    <Column :header="t('visits.next')"
      ><template #body="{ data: one }"
        ><template v-if="one.plannedFor">{{ words.plainDay(one.plannedFor) }}</template
        ><Button
          v-else
          size="small"
          severity="secondary"
          outlined
          icon="pi pi-calendar-plus"
          :label="t('visits.plan')"
          :aria-label="t('visits.planTo', { unit: one.unit.name })"
          @click="emit('plan', one)" /></template
    ></Column>
  </DataTable>
</template>
