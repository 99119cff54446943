import { defineRoute } from '../../http/define-route'
import { saveNudgeTimes } from '../../nudges/rules'

export default defineRoute('PUT /api/nudges/times', async ({ access, body }) => {
  await saveNudgeTimes(access, body)
  return { done: true }
})
