import { useSessionStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import type { SessionView } from '#core/contract/people'
import { may, type Permission } from '#core/contract/permission'
import { forgetAnswers, keepAnswer, keptAnswer } from '~/common/keptAnswers'
import { ApiProblem, callApi } from '~/common/useApi'
import { correctClock } from '~/common/useClock'

const KEPT_SESSION = 'session'

/** Who is signed in, and what the district that they look at is. */
export const useSession = defineStore('session', () => {
  const view = shallowRef<SessionView | null>(null)
  /** The session ended while somebody was at work: the page stays, and asks to sign in again over it. */
  const mustSignInAgain = ref(false)
  /** Counts sign-ins, so that what could not be loaded is loaded again. */
  const signIns = ref(0)
  /** What was chosen in this tab: a page that is loaded again stays with it. */
  const chosen = useSessionStorage<{ district?: string | null }>('chosen', {})
  /** The district that is looked at; null is the whole area, undefined nothing chosen yet. */
  const district = computed({
    get: () => chosen.value.district,
    set: code => (chosen.value = { district: code }),
  })

  function show(next: SessionView | null) {
    view.value = next
    if (!next) return
    const { districts } = next
    const isKnown =
      district.value === null ? districts.length > 1 : districts.some(({ code }) => code === district.value)
    if (!isKnown) district.value = districts[0]?.code ?? next.branch?.unit.code ?? null
  }
  function take(next: SessionView) {
    correctClock(next.now)
    show(next)
  }

  /**
   * Finds out who is signed in; nobody, without a network: at the desk a device knows its people by itself.
   *
   * @param onTheRoad of a page that is used without a network: then it is who opened one in this browser last. What
   *   they may see is what is kept here, and the server asks again before it takes anything.
   */
  async function load(onTheRoad = false): Promise<void> {
    try {
      const found = await callApi('GET /api/session', {})
      if (found) take(found)
      else show(null)
    } catch (problem) {
      const isOffline = problem instanceof ApiProblem && problem.unreachable
      // What it says of the time is of another day: the clock stays as it was corrected then.
      show(onTheRoad && isOffline ? keptAnswer<SessionView>(KEPT_SESSION) : null)
    }
  }
  /** Pages that are used on the road can be opened anew without a network. */
  const keepForTheRoad = () => keepAnswer(KEPT_SESSION, view.value)

  async function signIn(userName: string, password: string): Promise<void> {
    take(await callApi('POST /api/session', { body: { userName, password } }))
    mustSignInAgain.value = false
    signIns.value++
  }

  /** Comes in by a one-time code and chooses a password. */
  async function comeIn(userName: string, code: string, password: string): Promise<void> {
    take(await callApi('POST /api/session/code', { body: { userName, code, password } }))
    signIns.value++
  }

  async function signOut(everywhere: boolean): Promise<void> {
    await (everywhere ? callApi('DELETE /api/sessions', {}) : callApi('DELETE /api/session', {}))
    forgetAnswers()
    view.value = null
    district.value = undefined
  }

  /** Somebody unlocked this device: who they are it knows by itself. */
  function enter(next: SessionView) {
    view.value = next
    mustSignInAgain.value = false
    signIns.value++
  }
  function leave() {
    view.value = null
    mustSignInAgain.value = false
  }

  function ended() {
    if (view.value) mustSignInAgain.value = true
  }

  const can = (permission: Permission) => {
    const person = view.value?.person
    // A device may keep a person from before anything could be taken away from one.
    return may(person ? { role: person.role, without: person.without ?? [] } : null, permission)
  }
  /** The person sees a part of the branch's data only. */
  const isLimited = computed(() => view.value?.person.isLimited ?? false)

  return {
    view,
    mustSignInAgain,
    signIns,
    district,
    enter,
    leave,
    load,
    keepForTheRoad,
    signIn,
    comeIn,
    signOut,
    ended,
    can,
    isLimited,
  }
})
