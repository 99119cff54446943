import { useLocalStorage, watchDebounced } from '@vueuse/core'
import type { ExtractDefinition, ExtractSave, ExtractSource, FieldLine } from '#core/contract/extracts'
import { MOST_EXTRACT_COLUMNS } from '#core/contract/extracts'

export type ExtractColumnChoice = ExtractDefinition['columns'][number]

/** An extract while it is put together. */
export interface ExtractDraft {
  /** The saved extract that it changes; null for a new one. */
  id: string | null
  version: number
  name: string
  shared: boolean
  repeats: ExtractSave['repeats']
  onlyNew: boolean
  /** Where it goes by itself; null: into the folder. */
  recipient: string | null
  definition: ExtractDefinition
}

/** The kinds of rows of a dataset, and of a register. */
export const ROWS_OF = { dataset: ['report', 'cell'], register: ['case', 'entry'] } as const

/** What identifies a row: it begins every new extract. */
const FIRST: Readonly<Record<ExtractDefinition['rows'], readonly string[]>> = {
  report: ['@unit', '@unit_name', '@period'],
  cell: [
    '@unit',
    '@unit_name',
    '@period',
    '@item',
    '@item_name',
    '@bands',
    '@kind',
    '@value',
    '@answer',
    '@reason',
  ],
  case: ['@case', '@unit', '@unit_name', '@last_on'],
  entry: ['@case', '@entry', '@corrects', '@unit', '@unit_name', '@form', '@happened_on', '@received_at'],
}

/**
 * The columns that a new extract begins with: what a row is, then all answers in paper order. Personal ones are
 * not taken by accident: a person who needs them ticks them.
 */
export function firstColumns(
  rows: ExtractDefinition['rows'],
  fields: readonly FieldLine[],
): ExtractColumnChoice[] {
  const known = new Set(fields.map(({ key }) => key))
  const answers = fields
    .filter(({ key, isPersonal }) => !key.startsWith('@') && !isPersonal)
    .map(({ key }) => key)
  const keys = [...FIRST[rows].filter(key => known.has(key)), ...(rows === 'cell' ? [] : answers)]
  return keys.slice(0, MOST_EXTRACT_COLUMNS).map(key => ({ key }))
}

/** A new extract of a source. */
export const newExtract = (source: ExtractSource, language: 'en' | 'fr'): ExtractDraft => ({
  ...{ id: null, version: 0, name: '', shared: false, repeats: null, onlyNew: false, recipient: null },
  definition: {
    ...{ of: source.of, rows: ROWS_OF[source.kind][0], columns: [{ key: '@unit' }], filters: {} },
    ...{ heads: 'short', choices: 'label', several: 'columns', reasons: false },
    ...{ format: 'csv', language },
  },
})

/**
 * The extract that a person is putting together, kept in the browser until it is saved: no names of people are
 * in it.
 *
 * @param key the saved extract, or `new`
 */
export function useExtractDraft(key: () => string) {
  const session = useSession()
  const kept = useLocalStorage<Record<string, ExtractDraft>>(
    `lantern.extracts.${session.view?.person.id ?? ''}`,
    {},
  )
  const draft = ref<ExtractDraft | null>(kept.value[key()] ?? null)
  /** Is what stands here not saved? */
  const isChanged = ref(draft.value !== null)
  let clean = ''

  /** Begins with what is saved, or new. */
  function begin(from: ExtractDraft) {
    draft.value = JSON.parse(JSON.stringify(from)) as ExtractDraft
    clean = JSON.stringify(from)
    isChanged.value = false
  }
  /** What the page itself puts in, as the columns of a new source, is no change by the person. */
  function settle(change: () => void) {
    const wasChanged = isChanged.value || JSON.stringify(draft.value) !== clean
    change()
    if (!wasChanged) clean = JSON.stringify(draft.value)
  }
  /** What stands here is saved: nothing more is kept in the browser. */
  function saved(as: ExtractDraft) {
    forget()
    begin(as)
  }
  function forget() {
    const { [key()]: _gone, ...others } = kept.value
    kept.value = others
  }
  watchDebounced(
    draft,
    now => {
      if (!now || JSON.stringify(now) === clean) return
      isChanged.value = true
      kept.value = { ...kept.value, [key()]: now }
    },
    { deep: true, debounce: 200 },
  )
  return { draft, isChanged, begin, settle, saved, forget }
}
