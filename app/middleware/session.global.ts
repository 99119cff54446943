/** Every page but signing in and setting up needs a person; a clerk's pages are the desk. */
export default defineNuxtRouteMiddleware(async (to) => {
  const session = useSession()
  if (to.path === '/setup') return
  if (!session.view) await session.load()
  if (!session.view) return to.path === '/sign-in' ? undefined : navigateTo({ path: '/sign-in', query: to.path === '/' ? {} : { next: to.fullPath } })
  const clerk = session.view.person.role === 'clerk'
  if (to.path === '/sign-in') return navigateTo(clerk ? '/desk' : '/')
  if (clerk && !to.path.startsWith('/desk')) return navigateTo('/desk')
  if (!clerk && to.path.startsWith('/desk')) return navigateTo('/')
})
