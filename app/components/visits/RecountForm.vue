<script setup lang="ts">
import { nameCell } from '#core/report/edition'
import type { RecountSheet } from '#core/contract/visits'
import { useRecount } from '~/visits/useRecount'

/**
 * What a supervisor counts again of a report: the items are chosen, then counted without seeing what was
 * reported.
 */
const { sheet, visit } = defineProps<{ sheet: RecountSheet; visit?: string }>()
const emit = defineEmits<{ saved: []; discarded: [] }>()
const words = useWords()
const { t, locale } = words
const recount = useRecount(sheet, visit)
const { draft } = recount
const options = recount.items.map(({ item }) => ({ value: item.code, label: words.say(item.name) }))
const looking = ref(false)
const throwing = ref(false)
async function save() {
  looking.value = true
  if (recount.lacks.value.length) return
  if (await recount.save()) emit('saved')
}
function throwAway() {
  throwing.value = false
  recount.discard()
  emit('discarded')
}
const print = () => window.print()
</script>

<template>
  <section class="card stack" aria-labelledby="recount-form">
    <div class="spread">
      <h2 id="recount-form">{{ t('recount.count') }}</h2>
      <Button
        class="screen-only"
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-print"
        :label="t('recount.print')"
        :disabled="!recount.chosen.value.length"
        @click="print"
      />
    </div>
    <p class="quiet small screen-only">{{ t('recount.blind') }}</p>
    <PickMany
      v-model="draft.items"
      class="screen-only"
      input-id="recount-items"
      :label="t('recount.items')"
      :options="options"
    />
    <div v-for="{ item, cells } in recount.chosen.value" :key="item.code" class="item">
      <h3>{{ words.say(item.name) }}</h3>
      <p class="small quiet">{{ words.say(item.definition) }}</p>
      <div v-for="cell in cells" :key="cell.key" class="line">
        <label :for="`recount-${cell.key}`">{{
          cell.bands.length ? cell.bands.map(band => words.say(band.name)).join(', ') : words.say(item.name)
        }}</label>
        <InputText
          :id="`recount-${cell.key}`"
          v-model="draft.typed[cell.key]"
          class="number"
          inputmode="decimal"
          :maxlength="20"
          :aria-label="nameCell(cell, locale)"
          :invalid="recount.problemAt(cell) !== ''"
          :aria-describedby="`recount-${cell.key}-says`"
        />
        <p v-if="recount.problemAt(cell)" :id="`recount-${cell.key}-says`" role="alert" class="wrong small">
          {{ recount.problemAt(cell) }}
        </p>
      </div>
    </div>
    <div class="fields">
      <div class="field">
        <label for="recount-on">{{ t('recount.on') }}</label>
        <DayField v-model="draft.countedOn" input-id="recount-on" required />
      </div>
      <div class="field">
        <label for="recount-by">{{ t('recount.by') }}</label>
        <InputText id="recount-by" v-model="draft.countedBy" :maxlength="100" />
      </div>
    </div>
    <label class="screen-only"><Checkbox v-model="draft.onPaper" binary /> {{ t('recount.onPaper') }}</label>
    <div v-if="looking && recount.lacks.value.length" role="alert" class="wrong">
      <p v-for="lack in recount.lacks.value" :key="lack">{{ t(`recount.lack.${lack}`) }}</p>
    </div>
    <ProblemNote :problem="recount.problem.value" />
    <p class="quiet small screen-only">{{ t('recount.kept') }}</p>
    <div class="row screen-only">
      <Button icon="pi pi-check" :label="t('recount.save')" :loading="recount.busy.value" @click="save" />
      <Button
        v-if="recount.isKept.value"
        severity="secondary"
        text
        :label="t('recount.throwAway')"
        @click="throwing = true"
      />
    </div>
    <AskDialog
      v-model:visible="throwing"
      :title="t('recount.throwAway')"
      :act="t('recount.throwAway')"
      @go="throwAway"
      ><p>{{ t('recount.throwAwaySay') }}</p></AskDialog
    >
  </section>
</template>

<style scoped>
.item {
  border-top: 1px solid var(--line);
  padding-top: 10px;
  break-inside: avoid;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 110px;
  align-items: center;
  gap: 4px 14px;
  padding: 4px 0;
}
.line .wrong {
  grid-column: 1 / -1;
}
.number {
  width: 110px;
  text-align: right;
}
.wrong {
  color: var(--brick-7);
}
h3 {
  font: 600 15px/1.3 var(--body);
}
@media print {
  .screen-only {
    display: none !important;
  }
  .number {
    color: transparent;
  }
}
</style>
