import { letIn } from '../../../../desk/let-in'
import { defineRoute } from '../../../../http/define-route'

export default defineRoute('POST /api/reports/:round/:unit/let-in', ({ access, params, body }) =>
  letIn(access, params.round, params.unit, body.day, body.why),
)
