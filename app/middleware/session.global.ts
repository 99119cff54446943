/** Pages of the desk that come before anybody is at work there. */
const BEFORE = new Set(['/desk/pair', '/desk/sign-in', '/desk/pin', '/desk/unlock'])

/** Pages of the office that are used where there is no network. */
const ON_THE_ROAD = ['/gather/recount/']

/** Where somebody at a facility's device has to go first: pairing, signing in, a PIN, unlocking. */
async function gate(path: string, next: string) {
  const vault = useVault()
  if (path === '/desk/stuck') return undefined
  if (!(await vault.load())) return navigateTo('/desk/stuck')
  if (path === '/desk/pair') return undefined
  if (vault.coming) return path === '/desk/pin' ? undefined : navigateTo('/desk/pin')
  if (vault.isOpen) return path === '/desk/unlock' || path === '/desk/pin' ? navigateTo('/desk') : undefined
  if (vault.people.length)
    return path === '/desk/unlock' || path === '/desk/sign-in'
      ? undefined
      : navigateTo({ path: '/desk/unlock', query: BEFORE.has(path) ? {} : { next } })
  if (vault.device) return path === '/desk/sign-in' ? undefined : navigateTo('/desk/sign-in')
  if (phoneName()) return navigateTo('/desk/pair')
  // No device yet: the browser in which a clerk signed in becomes one.
  const session = useSession()
  if (!session.view) await session.load()
  if (!session.view) return navigateTo({ path: '/sign-in', query: { next: '/desk' } })
  if (session.view.person.role !== 'clerk') return navigateTo('/')
  await vault.pairHere()
  return navigateTo('/desk/pin')
}

/**
 * Every page but signing in and setting up needs a person; a clerk's pages are the desk, whose people the
 * device knows.
 */
export default defineNuxtRouteMiddleware(async to => {
  if (to.path === '/setup') return
  if (to.path.startsWith('/desk')) return gate(to.path, to.fullPath)
  const session = useSession()
  const vault = useVault()
  if (vault.isOpen) return navigateTo('/desk')
  const onTheRoad = ON_THE_ROAD.some(path => to.path.startsWith(path))
  if (!session.view) await session.load(onTheRoad)
  if (!session.view) {
    // A facility's device is no office: without a session of the office it opens as what it is.
    await vault.load()
    if (vault.people.length && to.path !== '/sign-in') return navigateTo('/desk')
    return to.path === '/sign-in'
      ? undefined
      : navigateTo({ path: '/sign-in', query: to.path === '/' ? {} : { next: to.fullPath } })
  }
  if (session.view.person.role === 'clerk') return navigateTo('/desk')
  if (to.path === '/sign-in') return navigateTo('/')
})
