import { defineRoute } from '../../../../http/define-route'
import { decideConflicts } from '../../../../reporting/settle-conflicts'

export default defineRoute('POST /api/reports/:round/:unit/conflicts', async ({ access, params, body }) => {
  await decideConflicts(access, params.round, params.unit, body.decisions)
  return { done: true }
})
