import type { DraftFile, DraftReports } from '#core/contract/drafts'
import { usesOfItem } from '#core/define/item-uses'
import { newItem } from '#core/define/new-item'
import { renameCode } from '#core/expression/rename'
import { vocabularyOf } from '#core/expression/vocabulary'
import { codeFromLabel } from '#core/form/code'
import {
  itemsOf,
  type Edition,
  type Item,
  type ItemKind,
  type Section,
  type Words,
} from '#core/report/edition'
import { useDraftAutosave } from './useDraftAutosave'
import type { Load } from '../common/useLoad'

/** Renames in the expressions of an item. */
function renameIn(item: Item, renamed: (text: string) => string): void {
  if (item.shownWhen !== undefined) item.shownWhen = renamed(item.shownWhen)
  if (item.expression !== undefined) item.expression = renamed(item.expression)
  if (typeof item.required === 'object') item.required = { when: renamed(item.required.when) }
  if (item.acceptedIf)
    item.acceptedIf = item.acceptedIf.map(one => ({ ...one, expression: renamed(one.expression) }))
}

/** The draft of one dataset while somebody works on it: what is in it, and the acts on its items. */
export function useDraft(dataset: () => string, load: Load<DraftFile>) {
  const { locale } = useWords()
  const autosave = useDraftAutosave<DraftFile, { draft: Edition; reports: DraftReports }>({
    load,
    fetch: () => callApi('GET /api/drafts/:dataset', { params: { dataset: dataset() } }),
    contents: ({ draft, reports }) => ({ draft, reports }),
    save: (version, { draft, reports }) =>
      callApi('PUT /api/drafts/:dataset', {
        params: { dataset: dataset() },
        body: { version, draft, reports },
      }),
  })
  const draft = computed(() => autosave.work.value?.draft ?? null)
  /** The draft with all that its rules may count. */
  const whole = computed<Edition | null>(() =>
    draft.value
      ? {
          ...draft.value,
          counts: autosave.file.value?.registers ?? [],
          others: autosave.file.value?.datasets ?? [],
        }
      : null,
  )
  const reports = computed(() => autosave.work.value?.reports ?? null)

  const items = computed(() => (draft.value ? itemsOf(draft.value) : []))
  const taken = () => [
    ...items.value.map(({ code }) => code),
    ...(draft.value?.sections.map(({ code }) => code) ?? []),
  ]
  const publishedCodes = computed(
    () =>
      new Set(
        autosave.file.value?.published ? itemsOf(autosave.file.value.published).map(({ code }) => code) : [],
      ),
  )

  function addSection(name: string): Section {
    const section: Section = { code: codeFromLabel(name, taken()), name: { [locale.value]: name }, items: [] }
    draft.value!.sections.push(section)
    return draft.value!.sections.at(-1)!
  }

  function addItem(section: Section, name: string, kind: ItemKind = 'wholeNumber'): Item {
    section.items.push(newItem(codeFromLabel(name, taken()), locale.value, name, kind))
    return section.items.at(-1)!
  }

  /** Gives an item another code; rules and indicators that name it go along. */
  function recode(item: Item, to: string) {
    const vocabulary = vocabularyOf(whole.value!)
    const renamed = (text: string) => renameCode(text, { what: 'item', from: item.code, to }, vocabulary)
    for (const rule of draft.value!.rules) rule.expression = renamed(rule.expression)
    for (const indicator of draft.value!.indicators) {
      indicator.numerator = renamed(indicator.numerator)
      indicator.denominator = renamed(indicator.denominator)
    }
    for (const one of items.value) renameIn(one, renamed)
    for (const count of draft.value!.caseCounts ?? [])
      count.cells = count.cells.map(key => key.replace(/^[^.]+/, of => (of === item.code ? to : of)))
    item.code = to
  }

  /** Moves an item one place; over the end of a section into the neighbouring one. */
  function move(code: string, by: 1 | -1) {
    const sections = draft.value!.sections
    const at = sections.findIndex(section => section.items.some(item => item.code === code))
    const section = sections[at]!
    const place = section.items.findIndex(item => item.code === code)
    const [item] = section.items.splice(place, 1)
    const target = place + by
    if (target >= 0 && target <= section.items.length) section.items.splice(target, 0, item!)
    else if (sections[at + by])
      sections[at + by]!.items.splice(by > 0 ? 0 : sections[at + by]!.items.length, 0, item!)
    else section.items.splice(place, 0, item!)
  }

  function remove(code: string): () => void {
    const section = draft.value!.sections.find(one => one.items.some(item => item.code === code))!
    const place = section.items.findIndex(item => item.code === code)
    const [item] = section.items.splice(place, 1)
    return () => section.items.splice(place, 0, item!)
  }

  /** Moves a whole section one place. */
  function moveSection(code: string, by: 1 | -1) {
    const sections = draft.value!.sections
    const at = sections.findIndex(section => section.code === code)
    if (!sections[at + by]) return
    sections.splice(at + by, 0, ...sections.splice(at, 1))
  }

  /** Takes a section out with its items. @returns brings it back where it was. */
  function removeSection(code: string): () => void {
    const sections = draft.value!.sections
    const at = sections.findIndex(section => section.code === code)
    const [section] = sections.splice(at, 1)
    return () => sections.splice(at, 0, section!)
  }

  /** Splits several items by the same breakdowns. */
  function splitAll(codes: readonly string[], axes: readonly string[]) {
    for (const item of items.value) if (codes.includes(item.code)) item.axes = [...axes]
  }

  /** What an item is named in: rules and indicators of this dataset. */
  const usesOf = (code: string): Words[] => usesOfItem(whole.value!, code)

  return {
    ...autosave,
    draft,
    whole,
    reports,
    items,
    publishedCodes,
    addSection,
    addItem,
    recode,
    move,
    remove,
    moveSection,
    removeSection,
    splitAll,
    usesOf,
  }
}

export type DraftWork = ReturnType<typeof useDraft>
