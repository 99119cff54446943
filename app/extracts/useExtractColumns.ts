import { watchDebounced } from '@vueuse/core'
import type { ExtractDefinition, ExtractPreview, FieldLine } from '#core/contract/extracts'
import { compile } from '#core/expression/compile'
import { NOTHING, type Vocabulary } from '#core/expression/vocabulary'
import { tablesAreSheets } from '#core/extract/sheets'
import type { Load } from '~/common/useLoad'
import { tableColumns, withTableColumns } from './tableColumns'
import { firstColumns, type ExtractColumnChoice, type ExtractDraft } from './useExtractDraft'

type Sheet = ExtractPreview['sheets'][number]
/** A preview waits for this long after the last change. */
const PAUSE_MS = 300

const isOf = (key: string, repeat: string) => (repeat ? key.startsWith(`${repeat}/`) : !key.includes('/'))

/**
 * The columns of an extract while it is put together: what can be chosen, what is, in which order, and the file
 * as it will be.
 *
 * @param settle makes a change that is none of the person
 * @param savedAs what is saved: its columns stay as they are, also those that are gone from its source
 */
export function useExtractColumns(
  draft: Ref<ExtractDraft | null>,
  settle: (change: () => void) => void,
  savedAs: () => ExtractDefinition | null,
) {
  const words = useWords()
  const definition = computed({
    get: () => draft.value!.definition,
    set: next => {
      if (draft.value) draft.value.definition = next
    },
  })
  const setColumns = (columns: ExtractColumnChoice[]) => {
    definition.value = { ...definition.value, columns }
  }

  /** A new source has other fields: those columns stay that it has too; where no answer is left, it begins anew. */
  function fitColumns(list: readonly FieldLine[]) {
    const { of, rows, columns } = definition.value
    const saved = savedAs()
    if (saved?.of === of && saved.rows === rows) return
    const known = new Set(list.map(({ key }) => key))
    const kept = columns.filter(({ key }) => known.has(key))
    const isUsual = kept.some(({ key }) => (rows === 'cell' ? key === '@value' : !key.startsWith('@')))
    const next = isUsual ? kept : firstColumns(rows, list)
    if (next.length !== columns.length || !isUsual) settle(() => setColumns(next))
  }
  const fields = useLoad(
    async () => {
      if (!draft.value) return null
      const { of, rows, form } = draft.value.definition
      const list = await callApi('GET /api/extract-fields', { query: { of, rows, form } })
      fitColumns(list.fields)
      return list
    },
    () => {
      const { of, rows, form } = draft.value?.definition ?? {}
      return of && rows ? `${of} ${rows} ${form ?? ''}` : ''
    },
  )
  const vocabulary = computed<Vocabulary>(() => ({
    ...{ label: {}, others: NOTHING, lists: NOTHING, noPeriods: true },
    names: new Map(fields.data.value?.names.map(name => [name.code, name])),
  }))
  const allFields = () => fields.data.value?.fields ?? []
  const labelOf = (key: string) => {
    const field = allFields().find(one => one.key === key)
    if (field) return words.say(field.label) || field.short
    const column = allFields().find(({ inTable }) => inTable?.column === key)?.inTable
    return column ? words.say(column.label) || column.column : key
  }
  /** Is this the sheet of a table, whose columns stand for places in all its rows? */
  const isTable = ({ name }: Sheet) =>
    tablesAreSheets(definition.value) && allFields().some(({ inTable }) => inTable?.table === name)

  const chosen = computed(() => new Set(definition.value.columns.map(({ key }) => key)))
  /** Added in the order of the form: after the last column that stands before it there. */
  function add(keys: string[]) {
    const order = new Map(fields.data.value?.fields.map(({ key }, at) => [key, at]))
    const columns = [...definition.value.columns]
    for (const key of keys) {
      const before = columns.findLastIndex(one => (order.get(one.key) ?? -1) < order.get(key)!)
      columns.splice(before + 1, 0, { key })
    }
    setColumns(columns)
  }
  const remove = (keys: string[]) => {
    const gone = new Set(keys)
    setColumns(definition.value.columns.filter(({ key }) => !gone.has(key)))
  }
  /** The columns of one table of the file, which are moved among themselves. */
  const ofSheet = (sheet: Sheet) => {
    const { heads, name } = sheet
    if (isTable(sheet)) return tableColumns(definition.value, allFields(), name)
    const keys = new Set(heads.map(({ key }) => key))
    return definition.value.columns.filter(({ key }) => keys.has(key) && isOf(key, name))
  }
  function setSheet(sheet: Sheet, next: ExtractColumnChoice[]) {
    if (isTable(sheet)) {
      definition.value = withTableColumns(definition.value, allFields(), sheet.name, next)
      return
    }
    const before = new Set(ofSheet(sheet))
    const others = definition.value.columns.filter(column => !before.has(column))
    setColumns(sheet.name ? [...others, ...next] : [...next, ...others])
  }

  const wanted = ref('')
  watchDebounced(
    () => JSON.stringify(draft.value?.definition ?? null),
    text => {
      wanted.value = text
    },
    { debounce: PAUSE_MS, immediate: true },
  )
  /** A condition that is half typed is not asked about: its field says what is wrong with it. */
  const isWhole = computed(() => {
    const text = draft.value?.definition.filters.where
    return !text || compile(text, vocabulary.value, 'truth').ok
  })
  const preview: Load<ExtractPreview | null> = useLoad(
    async () => {
      const body = JSON.parse(wanted.value || 'null') as ExtractDefinition | null
      if (!isWhole.value) return preview.data.value
      return body?.columns.length ? callApi('POST /api/extract-previews', { body }) : null
    },
    () => wanted.value,
  )
  return {
    ...{ definition, fields, vocabulary, labelOf, chosen, add, remove },
    ...{ ofSheet, setSheet, isWhole, preview },
  }
}
