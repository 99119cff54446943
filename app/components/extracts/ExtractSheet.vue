<script setup lang="ts">
import { VueDraggable } from 'vue-draggable-plus'
import type { ExtractPreview } from '#core/contract/extracts'
import type { ExtractColumnChoice } from '~/extracts/useExtractDraft'

/** A table of the file as it will be: its heads are dragged, moved by keys, renamed and taken out right here. */
const { sheet, labelOf } = defineProps<{
  sheet: ExtractPreview['sheets'][number]
  labelOf: (key: string) => string
}>()
/** The chosen columns of this table, in their order. */
const columns = defineModel<ExtractColumnChoice[]>('columns', { required: true })
const words = useWords()
const { t } = words

const spanOf = (key: string) => sheet.heads.filter(head => head.key === key).length
/** Keys that the table has by itself, before what was chosen. */
const own = computed(() => {
  const chosen = new Set(columns.value.map(({ key }) => key))
  return sheet.heads.filter(({ key }) => !chosen.has(key))
})
const shown = computed<ExtractColumnChoice[]>({
  get: () => columns.value.filter(({ key }) => spanOf(key) > 0),
  set: next => {
    const hidden = columns.value.filter(({ key }) => spanOf(key) === 0)
    columns.value = [...next, ...hidden]
  },
})
function move(at: number, by: number) {
  const to = at + by
  if (to < 0 || to >= shown.value.length) return
  const next = [...shown.value]
  next.splice(to, 0, ...next.splice(at, 1))
  shown.value = next
  void nextTick(() => document.getElementById(headId(next[to]!.key))?.focus())
}
const remove = (at: number) => {
  shown.value = shown.value.toSpliced(at, 1)
}
const renaming = ref<string | null>(null)
const name = ref('')
function rename(column: ExtractColumnChoice) {
  renaming.value = column.key
  name.value = column.name ?? sheet.heads.find(({ key }) => key === column.key)?.head ?? ''
  void nextTick(() => (document.getElementById('column-name') as HTMLInputElement | null)?.select())
}
function endRename(keep: boolean) {
  const key = renaming.value
  if (!key) return
  renaming.value = null
  if (keep)
    columns.value = columns.value.map(one =>
      one.key === key ? { key, ...(name.value.trim() && { name: name.value.trim() }) } : one,
    )
  void nextTick(() => document.getElementById(headId(key))?.focus())
}
const headId = (key: string) => `head-${sheet.name}-${key}`
function onKey(event: KeyboardEvent, at: number) {
  if (event.altKey && event.key === 'ArrowLeft') move(at, -1)
  else if (event.altKey && event.key === 'ArrowRight') move(at, 1)
  else if (event.key === 'Delete') remove(at)
  else return
  event.preventDefault()
}
</script>

<template>
  <div
    class="scroll"
    tabindex="0"
    role="region"
    :aria-label="sheet.name ? t('extract.repeat', { name: sheet.name }) : t('extract.preview')"
  >
    <table>
      <thead>
        <VueDraggable v-model="shown" tag="tr" handle=".grip" draggable=".mine" :animation="120">
          <th v-for="head in own" :key="head.key" scope="col" class="given">{{ head.label }}</th>
          <th
            v-for="(column, at) in shown"
            :key="column.key"
            scope="colgroup"
            class="mine"
            :colspan="spanOf(column.key)"
          >
            <span class="head">
              <i class="pi pi-bars grip" aria-hidden="true" />
              <InputText
                v-if="renaming === column.key"
                id="column-name"
                v-model="name"
                size="small"
                maxlength="100"
                :aria-label="t('extract.nameOf', { column: labelOf(column.key) })"
                @keydown.enter.prevent="endRename(true)"
                @keydown.esc.prevent="endRename(false)"
                @blur="endRename(true)"
              />
              <button
                v-else
                :id="headId(column.key)"
                type="button"
                class="textual"
                :aria-label="t('extract.rename', { column: labelOf(column.key) })"
                :title="t('extract.headKeys')"
                @click="rename(column)"
                @keydown="onKey($event, at)"
              >
                {{ labelOf(column.key) }}
              </button>
              <button
                type="button"
                class="out"
                :aria-label="t('extract.remove', { column: labelOf(column.key) })"
                @click="remove(at)"
              >
                <i class="pi pi-times" aria-hidden="true" />
              </button>
            </span>
          </th>
        </VueDraggable>
        <tr class="heads">
          <th v-for="head in sheet.heads" :key="head.head" scope="col">{{ head.head }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, at) in sheet.rows" :key="at">
          <td v-for="(text, column) in row" :key="column">{{ text }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow: auto;
  max-height: 62vh;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--card);
}
table {
  border-collapse: collapse;
  font-size: 14px;
}
th,
td {
  padding: 4px 8px;
  border-bottom: 1px solid var(--line);
  border-right: 1px solid var(--line);
  text-align: left;
  white-space: nowrap;
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
thead {
  position: sticky;
  top: 0;
  background: var(--sand);
}
.head {
  display: flex;
  align-items: center;
  gap: 6px;
}
.head .textual {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  text-align: left;
  font-weight: 600;
}
.given {
  font-weight: 600;
  color: var(--ink-7);
}
.grip {
  cursor: grab;
  color: var(--ink-5);
}
.out {
  border: 0;
  background: none;
  padding: 2px 4px;
  color: var(--ink-5);
  cursor: pointer;
}
.out i {
  font-size: 11px;
}
.heads th {
  font:
    13px ui-monospace,
    monospace;
  color: var(--ink-7);
}
</style>
