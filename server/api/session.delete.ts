import { defineRoute } from '../http/define-route'
import { signOut } from '../people/sign-in'

export default defineRoute('DELETE /api/session', async ({ event }) => {
  await signOut(event)
  return { done: true }
})
