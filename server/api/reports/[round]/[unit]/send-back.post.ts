import { defineRoute } from '../../../../http/define-route'
import { sendBack } from '../../../../reporting/review'

export default defineRoute('POST /api/reports/:round/:unit/send-back', ({ access, params, body }) =>
  sendBack(access, params.round, params.unit, body.why),
)
