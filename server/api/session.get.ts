import { accessOf } from '../access/access'
import { defineRoute } from '../http/define-route'
import { sessionView } from '../people/session-view'

export default defineRoute('GET /api/session', async ({ event }) => {
  const access = await accessOf(event)
  return access && sessionView(access)
})
