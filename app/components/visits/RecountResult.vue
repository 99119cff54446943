<script setup lang="ts">
import type { RecountSheet } from '#core/contract/visits'
import { cellsOf, nameCell } from '#core/report/edition'

/** What was counted, held against what was reported; and the recounts that it comes from. */
const { sheet } = defineProps<{ sheet: RecountSheet }>()
const emit = defineEmits<{ changed: [] }>()
const words = useWords()
const { t, locale } = words
const { busy, problem, run } = useAct()
const nameOf = computed(
  () => new Map(cellsOf(sheet.edition).map(cell => [cell.key, nameCell(cell, locale.value)])),
)
/** The one that is about to be withdrawn. */
const asked = shallowRef<RecountSheet['recounts'][number] | null>(null)
const isAsking = openWhile(asked)
async function withdraw() {
  const params = { id: asked.value!.id }
  if (!(await run(() => callApi('POST /api/recounts/:id/withdraw', { params })))) return
  asked.value = null
  emit('changed')
}
</script>

<template>
  <section class="card stack screen-only" aria-labelledby="recount-result">
    <h2 id="recount-result">{{ t('recount.result') }}</h2>
    <p v-if="!sheet.counted.length" class="quiet">{{ t('recount.nothing') }}</p>
    <template v-else>
      <DataTable :value="sheet.counted" data-key="cell" :table-props="{ 'aria-label': t('recount.result') }">
        <Column :header="t('recount.cell')"
          ><template #body="{ data: one }">{{ nameOf.get(one.cell) }}</template></Column
        >
        <Column :header="t('recount.reported')" class="num"
          ><template #body="{ data: one }">{{
            one.reported === null ? t('recount.noNumber') : words.number(one.reported)
          }}</template></Column
        >
        <Column :header="t('recount.counted')" class="num"
          ><template #body="{ data: one }">{{ words.number(one.recounted) }}</template></Column
        >
        <Column :header="t('verification.factor')"
          ><template #body="{ data: one }"><FactorSays :of="one" /></template
        ></Column>
      </DataTable>
      <h3>{{ t('recount.acts') }}</h3>
      <ul class="plain-list">
        <li v-for="one in sheet.recounts" :key="one.id" class="spread">
          <span
            >{{ words.plainDay(one.countedOn) }}, {{ one.countedBy }}
            <span class="small quiet"
              >{{ t('recount.cells', { count: one.cells }, one.cells)
              }}<template v-if="one.onPaper">, {{ t('recount.fromPaper', { by: one.by }) }}</template></span
            ></span
          ><Button
            size="small"
            severity="secondary"
            text
            :label="t('recount.withdraw')"
            :aria-label="t('recount.withdrawOf', { day: words.plainDay(one.countedOn) })"
            @click="asked = one"
          />
        </li>
      </ul>
    </template>
    <AskDialog
      v-model:visible="isAsking"
      :title="t('recount.withdraw')"
      :act="t('recount.withdraw')"
      :busy="busy"
      :problem="problem"
      @go="withdraw"
      ><p>{{ t('recount.withdrawSay') }}</p></AskDialog
    >
  </section>
</template>

<style scoped>
li {
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
@media print {
  .screen-only {
    display: none;
  }
}
</style>
