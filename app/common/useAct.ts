import { ApiProblem } from './useApi'

/**
 * The one way to do something at the server: says that it is under way, and keeps the refusal for showing at
 * the place. Anything that is no refusal is a mistake of ours and is thrown on.
 * @returns `run` fulfils with true when it was done.
 */
export function useAct() {
  const busy = ref(false)
  const problem = shallowRef<ApiProblem | null>(null)

  async function run(work: () => Promise<unknown>): Promise<boolean> {
    busy.value = true
    problem.value = null
    try {
      await work()
      return true
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error
      return false
    } finally {
      busy.value = false
    }
  }

  return { busy, problem, run }
}
