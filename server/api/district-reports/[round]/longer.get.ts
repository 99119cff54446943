import { longerReport } from '../../../district-reports/longer'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/district-reports/:round/longer', ({ access, params, query }) =>
  longerReport(access, params.round, query),
)
