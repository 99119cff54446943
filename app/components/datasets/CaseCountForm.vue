<script setup lang="ts">
import { listsOf } from '#core/expression/vocabulary'
import { isTypedNumber } from '#core/report/asked'
import { cellsOf, nameCell, type CaseCount } from '#core/report/edition'
import type { DraftWork } from '~/define/useDraft'

/** One count of cases: which cells are held against it, and which cases count. */
const { work } = defineProps<{ work: DraftWork }>()
const count = defineModel<CaseCount>({ required: true })
const emit = defineEmits<{ remove: [] }>()
const words = useWords()
const { t } = words
const registers = computed(() => work.file.value?.registers ?? [])
const register = computed(() => registers.value.find(({ code }) => code === count.value.register) ?? null)
const cells = computed(() =>
  cellsOf(work.draft.value!)
    .filter(({ item }) => isTypedNumber(item.kind))
    .map(cell => ({ value: cell.key, label: nameCell(cell, words.locale.value) })),
)
const chosenCells = computed({
  get: () => [...count.value.cells],
  set: keys => {
    count.value.cells = keys
  },
})
const questionsOf = (type: 'day' | 'text') =>
  (register.value?.questions ?? [])
    .filter(question => question.type === type)
    .map(({ code, label }) => ({ value: code, label: words.say(label) }))
const vocabulary = computed(() => listsOf(work.whole.value!).get(count.value.register) ?? null)
const where = computed({
  get: () => count.value.where ?? '',
  set: text => {
    if (text.trim()) count.value.where = text
    else delete count.value.where
  },
})
/** What a difference does. A facility does not have the cases of others, so it is not asked about them. */
const raises = computed({
  get: () => count.value.raises ?? 'shown',
  set: chosen => {
    if (chosen === 'shown') delete count.value.raises
    else count.value.raises = chosen
  },
})
watch(
  () => count.value.place,
  place => {
    if (place === 'residence') delete count.value.raises
  },
)
const residence = computed({
  get: () => count.value.residence ?? '',
  set: code => {
    count.value.residence = code
  },
})
</script>

<template>
  <section class="card stack">
    <div class="spread">
      <h2>{{ words.say(count.name) || count.code }}</h2>
      <Button
        size="small"
        text
        severity="secondary"
        icon="pi pi-trash"
        :label="t('caseCounts.remove')"
        @click="emit('remove')"
      />
    </div>
    <WordsField v-model="count.name" input-id="case-count-name" :label="t('draft.name')" />
    <PickMany
      v-model="chosenCells"
      input-id="case-count-cells"
      :label="t('caseCounts.cells')"
      :options="cells"
    />
    <div class="fields">
      <PickOne
        v-model="count.register"
        input-id="case-count-register"
        :label="t('bundle.kind.register')"
        :options="registers.map(({ code, name }) => ({ value: code, label: words.say(name) }))"
      />
      <PickOne
        v-model="count.date"
        input-id="case-count-date"
        :label="t('caseCounts.date')"
        :options="questionsOf('day')"
      />
      <PickOne
        v-model="count.place"
        input-id="case-count-place"
        :label="t('caseCounts.place')"
        :options="
          (['care', 'residence'] as const).map(value => ({ value, label: t(`caseCounts.by.${value}`) }))
        "
      />
      <PickOne
        v-if="count.place === 'residence'"
        v-model="residence"
        input-id="case-count-residence"
        :label="t('caseCounts.residence')"
        :options="questionsOf('text')"
      />
      <PickOne
        v-else
        v-model="raises"
        input-id="case-count-raises"
        :label="t('caseCounts.raises')"
        :options="
          (['shown', 'note', 'explain'] as const).map(value => ({
            value,
            label: t(`caseCounts.raisesWhat.${value}`),
          }))
        "
      />
    </div>
    <ExpressionField
      v-if="vocabulary"
      v-model="where"
      input-id="case-count-where"
      :label="t('caseCounts.where')"
      :vocabulary="vocabulary"
      wanted="truth"
    />
    <p class="small quiet">{{ t('caseCounts.whereHint') }}</p>
  </section>
</template>
