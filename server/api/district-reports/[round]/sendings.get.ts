import { defineRoute } from '../../../http/define-route'
import { sendingsOfReport } from '../../../sending/list'

export default defineRoute('GET /api/district-reports/:round/sendings', ({ access, params, query }) =>
  sendingsOfReport(access, params.round, query.unit),
)
