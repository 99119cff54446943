import { defineRoute } from '../../../../http/define-route'
import { takePaperReport } from '../../../../reporting/paper'

export default defineRoute('POST /api/reports/:round/:unit/paper', ({ access, params, body }) =>
  takePaperReport(access, params.round, params.unit, body),
)
