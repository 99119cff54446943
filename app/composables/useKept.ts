import { mergeDrafts } from '#core/define/merge-drafts'
import { ApiProblem } from './useApi'
import type { Load } from './useLoad'

/** How long after the last keystroke a draft is kept at the server. */
const WAIT = 700

export interface KeptOptions<File extends { version: number; mine?: boolean }, Work extends object> {
  load: Load<File>
  /** Reads the draft anew, when somebody else was quicker. */
  fetch: () => Promise<File>
  /** The part of the file that is worked on. */
  contents: (file: File) => Work
  save: (version: number, work: Work) => Promise<File>
}

/**
 * A draft while somebody works on it: it keeps itself at the server. When somebody else changed it meanwhile nothing is
 * overwritten and nothing is lost: the person sees who and what, and merges, takes theirs, or makes a copy.
 */
export function useKept<File extends { version: number; mine?: boolean }, Work extends object>({ load, fetch, contents, save }: KeptOptions<File, Work>) {
  const work = ref(null) as Ref<Work | null>
  const file = shallowRef<File | null>(null)
  const state = ref<'kept' | 'changed' | 'keeping' | 'refused'>('kept')
  const problem = shallowRef<ApiProblem | null>(null)
  /** Theirs, after a conflict. */
  const theirs = shallowRef<File | null>(null)
  /** What both had changed, after a merge: mine stands there. */
  const both = ref<string[]>([])
  let base: Work | null = null
  let timer: ReturnType<typeof setTimeout> | undefined
  let again = false
  let taking = false

  const copyOf = (value: Work): Work => JSON.parse(JSON.stringify(value)) as Work

  function put(next: Work) {
    taking = true
    work.value = next
    void nextTick(() => { taking = false })
  }
  function take(next: File) {
    file.value = next
    base = copyOf(contents(next))
    theirs.value = null
    problem.value = null
    state.value = 'kept'
    put(copyOf(contents(next)))
  }
  watch(() => load.data.value, (next) => { if (next) take(next) }, { immediate: true })

  async function keep(): Promise<void> {
    clearTimeout(timer)
    if (!work.value || !file.value) return
    if (state.value === 'keeping') { again = true; return }
    state.value = 'keeping'
    const sent = copyOf(work.value)
    try {
      file.value = await save(file.value.version, sent)
      base = sent
      state.value = 'kept'
      problem.value = null
    }
    catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error
      state.value = 'refused'
      if (error.code === 'draft-changed') theirs.value = await fetch().catch(() => null)
    }
    if (again) {
      again = false
      if (state.value === 'kept') await keep()
    }
  }

  watch(work, () => {
    if (taking) return
    if (state.value !== 'keeping') state.value = 'changed'
    else again = true
    clearTimeout(timer)
    // What the person may not keep is only tried.
    if (!theirs.value && file.value?.mine !== false) timer = setTimeout(() => void keep(), WAIT)
  }, { deep: true })

  /** Puts what I did on top of theirs, and keeps it. */
  async function merge() {
    if (!theirs.value || !work.value || !base) return
    const { merged, both: told } = mergeDrafts(base, copyOf(work.value), copyOf(contents(theirs.value)))
    both.value = told
    take(theirs.value)
    put(merged)
    await nextTick()
    await keep()
  }

  function warn(event: BeforeUnloadEvent) {
    if (state.value !== 'kept' && file.value?.mine !== false) event.preventDefault()
  }
  onMounted(() => window.addEventListener('beforeunload', warn))
  onBeforeUnmount(() => {
    window.removeEventListener('beforeunload', warn)
    if (state.value === 'changed' && file.value?.mine !== false) void keep()
  })
  return { work, file, state, problem, theirs, both, keep, merge, forgetBoth: () => { both.value = [] }, takeTheirs: () => { if (theirs.value) take(theirs.value) } }
}

export type KeptDraft = Pick<ReturnType<typeof useKept<{ version: number }, object>>, 'state' | 'problem' | 'theirs' | 'both' | 'merge' | 'forgetBoth' | 'takeTheirs'>
