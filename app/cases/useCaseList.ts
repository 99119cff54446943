import { readFilters, writeFilters, type AnswerFilter } from '#core/cases/answer-filter'
import type { CaseRegister } from '#core/cases/register'
import type { CaseQuery } from '#core/contract/cases'

/** What of a query the page's address holds: a link to the page shows the same list. */
const KEYS = [
  'register',
  'unit',
  'find',
  'happenedFrom',
  'happenedTo',
  'receivedFrom',
  'receivedTo',
  'need',
  'state',
  'answers',
  'columns',
  'sort',
  'order',
] as const satisfies readonly (keyof CaseQuery)[]
type Asked = Pick<CaseQuery, (typeof KEYS)[number]>

/** What stays when the filters go. */
const KEPT: ReadonlySet<string> = new Set(['register', 'columns', 'sort', 'order'])

/** A search with fewer letters finds too much to be of use. */
const LEAST_LETTERS = 3

/**
 * The list of cases as it is asked for: kept in the address of the page, so that going back from a case shows
 * the same list.
 */
export function useCaseList(registers: () => ReadonlyMap<string, CaseRegister>) {
  const { asked: inAddress, ask } = useAsked(KEYS)
  const asked = computed(() => inAddress.value as Asked)

  const register = computed(() => registers().get(asked.value.register ?? '') ?? null)
  /** Another register has other questions. */
  const chooseRegister = (code: string | null) =>
    ask({
      register: code ?? undefined,
      answers: undefined,
      columns: undefined,
      sort: undefined,
      order: undefined,
    })

  const text = useAskedText(
    () => asked.value.find,
    find => ask({ find }),
    LEAST_LETTERS,
  )

  const columns = computed(() => asked.value.columns?.split(',') ?? [...(register.value?.line ?? [])])
  const filters = computed<AnswerFilter[]>(() => {
    const read = register.value ? readFilters(register.value, asked.value.answers ?? '') : null
    return read?.ok ? read.value : []
  })
  const setFilters = (of: readonly AnswerFilter[]) => ask({ answers: writeFilters(of) })

  /** Is the list narrowed by anything but the register and the search? */
  const hasFilters = computed(() => KEYS.some(key => key !== 'find' && !KEPT.has(key) && asked.value[key]))
  const isFiltered = computed(() => hasFilters.value || asked.value.find !== undefined)
  const clear = () => {
    text.value = ''
    return ask(Object.fromEntries(KEYS.flatMap(key => (KEPT.has(key) ? [] : [[key, undefined]]))))
  }

  const load = usePages(
    (after?: { id: string }) => callApi('GET /api/cases', { query: { ...asked.value, after: after?.id } }),
    () => JSON.stringify(asked.value),
  )
  return {
    asked,
    ask,
    register,
    chooseRegister,
    text,
    columns,
    filters,
    setFilters,
    hasFilters,
    isFiltered,
    clear,
    load,
  }
}
