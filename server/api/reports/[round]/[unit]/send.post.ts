import { defineRoute } from '../../../../http/define-route'
import { sendReport } from '../../../../reporting/send'

export default defineRoute('POST /api/reports/:round/:unit/send', ({ access, params, body }) =>
  sendReport(access, params.round, params.unit, body.explanations),
)
