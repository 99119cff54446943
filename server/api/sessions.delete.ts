import { defineRoute } from '../http/define-route'
import { signOutEverywhere } from '../people/sign-in'

export default defineRoute('DELETE /api/sessions', async ({ access, event }) => {
  await signOutEverywhere(access.id)
  await clearUserSession(event)
  return { done: true }
})
