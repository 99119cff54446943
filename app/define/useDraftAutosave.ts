import { useEventListener } from '@vueuse/core'
import { mergeDrafts } from '#core/define/merge-drafts'
import { ApiProblem } from '../common/useApi'
import type { Load } from '../common/useLoad'

/** A draft is saved so long after the last keystroke, in milliseconds. */
const WAIT = 700

export interface AutosaveOptions<File extends { version: number; mine?: boolean }, Work extends object> {
  load: Load<File>
  /** Loads the server's version after a conflict. */
  fetch: () => Promise<File>
  /** The part of the file that is edited. */
  contents: (file: File) => Work
  save: (version: number, work: Work) => Promise<File>
}

/**
 * Saves a draft on the server while somebody edits it. When somebody else saved it in the meantime, nothing
 * is overwritten: the person sees who changed what, and merges, takes their version, or makes a copy.
 */
export function useDraftAutosave<File extends { version: number; mine?: boolean }, Work extends object>({
  load,
  fetch,
  contents,
  save,
}: AutosaveOptions<File, Work>) {
  const work = ref(null) as Ref<Work | null>
  const file = shallowRef<File | null>(null)
  const state = ref<'saved' | 'changed' | 'saving' | 'rejected'>('saved')
  const problem = shallowRef<ApiProblem | null>(null)
  /** The server's version, after a conflict. */
  const theirs = shallowRef<File | null>(null)
  /** The places that both had changed, after a merge; my values are there now. */
  const both = ref<string[]>([])
  let base: Work | null = null
  let timer: ReturnType<typeof setTimeout> | undefined
  let again = false
  let taking = false

  const copyOf = (value: Work): Work => JSON.parse(JSON.stringify(value)) as Work

  function put(next: Work) {
    taking = true
    work.value = next
    void nextTick(() => {
      taking = false
    })
  }
  function take(next: File) {
    file.value = next
    base = copyOf(contents(next))
    theirs.value = null
    problem.value = null
    state.value = 'saved'
    put(copyOf(contents(next)))
  }
  watch(
    () => load.data.value,
    next => {
      if (next) take(next)
    },
    { immediate: true },
  )

  async function saveNow(): Promise<void> {
    clearTimeout(timer)
    if (!work.value || !file.value) return
    if (state.value === 'saving') {
      again = true
      return
    }
    state.value = 'saving'
    const sent = copyOf(work.value)
    try {
      file.value = await save(file.value.version, sent)
      base = sent
      state.value = 'saved'
      problem.value = null
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error
      state.value = 'rejected'
      if (error.code === 'draft-changed') theirs.value = await fetch().catch(() => null)
    }
    if (again) {
      again = false
      if (state.value === 'saved') await saveNow()
    }
  }

  watch(
    work,
    () => {
      if (taking) return
      if (state.value !== 'saving') state.value = 'changed'
      else again = true
      clearTimeout(timer)
      // Somebody without the permission to save can still try things out.
      if (!theirs.value && file.value?.mine !== false) timer = setTimeout(() => void saveNow(), WAIT)
    },
    { deep: true },
  )

  /** Rebases my edits on the server's version, then saves. */
  async function merge() {
    if (!theirs.value || !work.value || !base) return
    const { merged, both: conflicts } = mergeDrafts(base, copyOf(work.value), copyOf(contents(theirs.value)))
    both.value = conflicts
    take(theirs.value)
    put(merged)
    await nextTick()
    await saveNow()
  }

  function warn(event: BeforeUnloadEvent) {
    if (state.value !== 'saved' && file.value?.mine !== false) event.preventDefault()
  }
  useEventListener('beforeunload', warn)
  onBeforeUnmount(() => {
    if (state.value === 'changed' && file.value?.mine !== false) void saveNow()
  })
  return {
    work,
    file,
    state,
    problem,
    theirs,
    both,
    merge,
    forgetBoth: () => {
      both.value = []
    },
    takeTheirs: () => {
      if (theirs.value) take(theirs.value)
    },
  }
}

export type DraftAutosave = Pick<
  ReturnType<typeof useDraftAutosave<{ version: number; mine?: boolean }, object>>,
  'file' | 'state' | 'problem' | 'theirs' | 'both' | 'merge' | 'forgetBoth' | 'takeTheirs'
>
