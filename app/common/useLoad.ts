import { ApiProblem } from './useApi'

/** One thing that a page shows, with its states: loading, there, or a problem that can be tried again. */
export interface Load<T> {
  data: Ref<T | null>
  problem: Ref<ApiProblem | null>
  loading: Ref<boolean>
  reload: () => Promise<void>
}

/**
 * The one way to load: fetches at once and whenever `when` changes. An answer that a later request overtook
 * is dropped. Signing in again loads anew.
 */
export function useLoad<T>(fetcher: () => Promise<T>, when?: () => unknown): Load<T> {
  const data = shallowRef<T | null>(null) as Ref<T | null>
  const problem = shallowRef<ApiProblem | null>(null)
  const loading = ref(true)
  let latest = 0

  async function reload() {
    const own = ++latest
    loading.value = true
    try {
      const answer = await fetcher()
      if (own !== latest) return
      data.value = answer
      problem.value = null
    } catch (error) {
      if (own !== latest) return
      problem.value = error instanceof ApiProblem ? error : new ApiProblem(-1, 'client', String(error))
    } finally {
      if (own === latest) loading.value = false
    }
  }

  const session = useSession()
  watch([() => when?.(), () => session.signIns], () => void reload(), { immediate: true })
  return { data, problem, loading, reload }
}
