import { defineRoute } from '../http/define-route'

export default defineRoute('DELETE /api/session', async ({ event }) => {
  await clearUserSession(event)
  return { done: true }
})
