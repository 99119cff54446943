<script setup lang="ts">
import type { Words } from '#core/report/edition'
import { codeFromLabel } from '#core/form/code'
import { VueDraggable } from 'vue-draggable-plus'
import { LANGUAGES } from '#core/languages'

/**
 * A list of coded labels in order: bands of a breakdown, rows of a table, choices. Dragged, or moved by keys.
 */
type Coded = { code: string; name?: Words; label?: Words; under?: string }
const {
  inputId,
  wordsKey,
  fixed = () => false,
  unders = [],
  addLabel,
} = defineProps<{
  inputId: string
  /** Where each one's words are. */
  wordsKey: 'name' | 'label'
  /** Codes that stay as they are. */
  fixed?: (code: string) => boolean
  /** The choices above, when each of these is under one of them. */
  unders?: readonly { value: string; label: string }[]
  addLabel: string
}>()
const list = defineModel<Coded[]>({ required: true })
const { t, locale } = useI18n()
const wordsOf = (one: Coded): Words => one[wordsKey] as Words
const nameOf = (one: Coded) => wordsOf(one)[locale.value] || one.code
function add(name: string) {
  list.value.push({
    code: codeFromLabel(
      name,
      list.value.map(({ code }) => code),
    ),
    [wordsKey]: { [locale.value]: name },
  })
}
/** Several at once, from a spreadsheet: a line each; what stands behind a tab is the second language. */
function paste(event: ClipboardEvent) {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\n\t]/.test(text.trim())) return
  event.preventDefault()
  for (const line of text.split(/\r?\n/)) {
    const [first, second] = line.split('\t').map(cell => cell.trim())
    if (!first) continue
    add(first)
    const other = LANGUAGES.find(language => language !== locale.value)
    if (second && other) wordsOf(list.value.at(-1)!)[other] = second
  }
}
async function move(at: number, by: number) {
  const target = at + by
  if (target < 0 || target >= list.value.length) return
  const [one] = list.value.splice(at, 1)
  list.value.splice(target, 0, one!)
  await nextTick()
  document.getElementById(`${inputId}-${one!.code}-${by < 0 ? 'up' : 'down'}`)?.focus()
}
const under = (one: Coded) =>
  computed({
    get: () => one.under ?? null,
    set: next => {
      if (next) one.under = next
      else delete one.under
    },
  })
</script>

<template>
  <div class="stack list" @paste="paste">
    <VueDraggable v-model="list" tag="ol" class="plain-list" handle=".grip" :animation="120">
      <li v-for="(one, at) in list" :key="one.code" class="line">
        <i class="pi pi-bars grip" aria-hidden="true" />
        <code>{{ one.code }}</code>
        <InputText
          v-for="language in LANGUAGES"
          :key="language"
          v-model="wordsOf(one)[language]"
          size="small"
          :aria-label="`${one.code} (${language})`"
          :placeholder="language"
          maxlength="300"
        />
        <PickOne
          v-if="unders.length"
          v-model="under(one).value"
          :input-id="`${inputId}-${one.code}-under`"
          :label="t('lists.underOf', { name: nameOf(one) })"
          label-hidden
          :options="[{ value: null, label: t('lists.underNone') }, ...unders]"
        />
        <Button
          :id="`${inputId}-${one.code}-up`"
          text
          size="small"
          severity="secondary"
          icon="pi pi-arrow-up"
          :aria-label="t('draft.up', { name: nameOf(one) })"
          :disabled="at === 0"
          @click="move(at, -1)"
        />
        <Button
          :id="`${inputId}-${one.code}-down`"
          text
          size="small"
          severity="secondary"
          icon="pi pi-arrow-down"
          :aria-label="t('draft.down', { name: nameOf(one) })"
          :disabled="at === list.length - 1"
          @click="move(at, 1)"
        />
        <Button
          text
          size="small"
          severity="secondary"
          icon="pi pi-trash"
          :aria-label="t('draft.remove', { name: nameOf(one) })"
          :disabled="fixed(one.code)"
          @click="list.splice(at, 1)"
        />
      </li>
    </VueDraggable>
    <AddByName :label="addLabel" @add="add" />
    <p class="small quiet">{{ t('lists.pasteHint') }}</p>
  </div>
</template>

<style scoped>
.list {
  gap: 6px;
}
.line {
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 2px 0;
}
.grip {
  cursor: grab;
  color: var(--ink-5);
  padding: 4px;
}
.line > :deep(input) {
  flex: 1;
  min-width: 60px;
}
code {
  font-size: 12px;
  width: 84px;
  overflow: hidden;
  text-overflow: ellipsis;
  color: var(--ink-5);
}
</style>
