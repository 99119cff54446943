import { defineRoute } from '../http/define-route'
import { makeFirstAdministrator } from '../people/first-administrator'

export default defineRoute('POST /api/setup', async ({ body }) => {
  await makeFirstAdministrator(body)
  return { done: true }
})
