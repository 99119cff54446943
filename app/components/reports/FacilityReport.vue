<script setup lang="ts">
/** The report of a facility, read from the district, as the officer works with it. */
const { round, unit } = defineProps<{ round: string; unit: string }>()
const emit = defineEmits<{ changed: [] }>()
defineSlots<{
  /** What stands there while there is no report to show. */
  waiting?: () => unknown
  /** What stands below a report that cannot be read. */
  problem?: () => unknown
}>()
const report = useLoad(
  () => callApi('GET /api/reports/:round/:unit', { params: { round, unit } }),
  () => [round, unit],
)
async function changed() {
  await report.reload()
  emit('changed')
}
</script>

<template>
  <div>
    <slot v-if="!report.data.value" name="waiting" />
    <LoadState v-slot="{ data }" :load="report">
      <ReportReader
        :key="`${data.round.id} ${data.unit.code} ${data.state} ${data.late.length} ${data.conflicts.length} ${data.letIn?.until}`"
        :file="data"
        @changed="changed"
      />
    </LoadState>
    <slot v-if="report.problem.value" name="problem" />
  </div>
</template>
