import { defineStore } from 'pinia'
import type { SessionView } from '#core/contract/people'
import { may, type Permission } from '#core/contract/permission'
import { ApiProblem, callApi } from '~/composables/useApi'
import { correctClock } from '~/composables/useClock'

const KEPT = 'lantern-person'

/** Who is signed in, and what the district that they look at is. */
export const useSession = defineStore('session', () => {
  const view = shallowRef<SessionView | null>(null)
  /** The session ended while somebody was at work: the page stays, and asks to sign in again over it. */
  const mustSignInAgain = ref(false)
  /** Counts sign-ins, so that what could not be loaded is loaded again. */
  const signIns = ref(0)
  const district = ref<string | null>(null)

  function take(next: SessionView) {
    view.value = next
    correctClock(next.now)
    localStorage.setItem(KEPT, JSON.stringify(next))
    district.value = next.districts.some(({ code }) => code === district.value) ? district.value : next.districts[0]?.code ?? next.branch?.unit.code ?? null
  }

  /** Finds out who is signed in. Without a network the person who last signed in on this device works on. */
  async function load(): Promise<void> {
    try {
      const found = await callApi('GET /api/session', {})
      if (found) take(found)
      else view.value = null
    }
    catch (error) {
      const kept = localStorage.getItem(KEPT)
      if (error instanceof ApiProblem && error.unreachable && kept) {
        view.value = JSON.parse(kept) as SessionView
        return
      }
      view.value = null
    }
  }

  async function signIn(userName: string, password: string): Promise<void> {
    take(await callApi('POST /api/session', { body: { userName, password } }))
    mustSignInAgain.value = false
    signIns.value++
  }

  async function signOut(everywhere: boolean): Promise<void> {
    await (everywhere ? callApi('DELETE /api/sessions', {}) : callApi('DELETE /api/session', {}))
    localStorage.removeItem(KEPT)
    view.value = null
    district.value = null
  }

  function ended() {
    if (view.value) mustSignInAgain.value = true
  }

  const can = (permission: Permission) => may(view.value?.person.role ?? null, permission)

  return { view, mustSignInAgain, signIns, district, load, signIn, signOut, ended, can }
})
