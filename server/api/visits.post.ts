import { defineRoute } from '../http/define-route'
import { planVisit } from '../visits/visits'

export default defineRoute('POST /api/visits', async ({ access, body }) => {
  await planVisit(access, body)
  return { done: true }
})
