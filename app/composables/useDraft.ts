import type { DraftFile, DraftReports } from '#core/contract/drafts'
import { renameCode } from '#core/expression/rename'
import { vocabularyOf } from '#core/expression/vocabulary'
import { codeFromLabel } from '#core/form/code'
import { itemsOf, type Edition, type Item, type Section } from '#core/report/edition'
import { ApiProblem } from './useApi'

/** How long after the last keystroke a draft is kept at the server. */
const WAIT = 700

const emptyItem = (code: string, language: string, name: string): Item => ({
  code, name: { [language]: name }, definition: {}, unitOfMeasure: 'count', number: 'count', rollUp: 'sum',
  range: { method: 'modifiedZ', limit: 3.5, raises: 'explain' }, axes: [],
})

/**
 * The draft of one dataset while somebody works on it. What is changed is kept at the server by itself; when somebody
 * else changed it meanwhile, nothing is overwritten and nothing is lost: both are there until the person chooses.
 */
export function useDraft(dataset: () => string, loaded: () => DraftFile | null) {
  const { locale } = useWords()
  const draft = ref<Edition | null>(null)
  const reports = ref<DraftReports | null>(null)
  const file = shallowRef<DraftFile | null>(null)
  const state = ref<'kept' | 'changed' | 'keeping' | 'refused'>('kept')
  const problem = shallowRef<ApiProblem | null>(null)
  let timer: ReturnType<typeof setTimeout> | undefined
  let again = false
  let taking = false

  function take(next: DraftFile, contents: boolean) {
    file.value = next
    if (!contents) return
    taking = true
    draft.value = structuredClone(next.draft)
    reports.value = structuredClone(next.reports)
    void nextTick(() => { taking = false })
  }
  watch(loaded, (next) => { if (next) { take(next, true); state.value = 'kept'; problem.value = null } }, { immediate: true })

  async function keep(version = file.value?.version ?? 0): Promise<void> {
    clearTimeout(timer)
    if (!draft.value || !reports.value) return
    if (state.value === 'keeping') { again = true; return }
    state.value = 'keeping'
    try {
      take(await callApi('PUT /api/drafts/:dataset', { params: { dataset: dataset() }, body: { version, draft: draft.value, reports: reports.value } }), false)
      state.value = 'kept'
      problem.value = null
    }
    catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error
      state.value = 'refused'
    }
    if (again) {
      again = false
      if (state.value === 'kept') await keep()
    }
  }

  watch([draft, reports], () => {
    if (taking) return
    if (state.value !== 'keeping') state.value = 'changed'
    else again = true
    clearTimeout(timer)
    if (problem.value?.code !== 'draft-changed') timer = setTimeout(() => void keep(), WAIT)
  }, { deep: true })

  const items = computed(() => (draft.value ? itemsOf(draft.value) : []))
  const taken = () => [...items.value.map(({ code }) => code), ...(draft.value?.sections.map(({ code }) => code) ?? [])]
  const publishedCodes = computed(() => new Set(file.value?.published ? itemsOf(file.value.published).map(({ code }) => code) : []))

  function addSection(name: string): Section {
    const section: Section = { code: codeFromLabel(name, taken()), name: { [locale.value]: name }, items: [] }
    draft.value!.sections.push(section)
    return draft.value!.sections.at(-1)!
  }

  function addItem(section: Section, name: string): Item {
    section.items.push(emptyItem(codeFromLabel(name, taken()), locale.value, name))
    return section.items.at(-1)!
  }

  /** Gives an item another code; rules and indicators that name it go along. */
  function recode(item: Item, to: string) {
    const vocabulary = vocabularyOf(draft.value!)
    const renamed = (text: string) => renameCode(text, { what: 'item', from: item.code, to }, vocabulary)
    for (const rule of draft.value!.rules) rule.expression = renamed(rule.expression)
    for (const indicator of draft.value!.indicators) {
      indicator.numerator = renamed(indicator.numerator)
      indicator.denominator = renamed(indicator.denominator)
    }
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
    else if (sections[at + by]) sections[at + by]!.items.splice(by > 0 ? 0 : sections[at + by]!.items.length, 0, item!)
    else section.items.splice(place, 0, item!)
  }

  function remove(code: string): () => void {
    const section = draft.value!.sections.find(one => one.items.some(item => item.code === code))!
    const place = section.items.findIndex(item => item.code === code)
    const [item] = section.items.splice(place, 1)
    return () => section.items.splice(place, 0, item!)
  }

  onBeforeUnmount(() => { if (state.value === 'changed') void keep() })
  return { draft, reports, file, state, problem, items, publishedCodes, keep, addSection, addItem, recode, move, remove }
}

export type DraftWork = ReturnType<typeof useDraft>
