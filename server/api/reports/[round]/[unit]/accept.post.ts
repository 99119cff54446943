import { nowText } from '../../../../clock'
import { defineRoute } from '../../../../http/define-route'
import { acceptReport } from '../../../../reporting/review'

export default defineRoute('POST /api/reports/:round/:unit/accept', ({ access, params }) =>
  acceptReport(access, params.round, params.unit, nowText()),
)
