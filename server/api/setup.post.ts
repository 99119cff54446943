import { addressOf } from '../access/tries'
import { defineRoute } from '../http/define-route'
import { makeFirstAdministrator } from '../people/first-administrator'

export default defineRoute('POST /api/setup', async ({ body, event }) => {
  await makeFirstAdministrator(body, addressOf(event))
  return { done: true }
})
