import { leaveOutLate } from '../../../../desk/let-in'
import { defineRoute } from '../../../../http/define-route'

export default defineRoute('POST /api/reports/:round/:unit/leave-out', async ({ access, params, body }) => {
  await leaveOutLate(access, params.round, params.unit, body.why)
  return { done: true as const }
})
