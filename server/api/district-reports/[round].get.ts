import { districtReport } from '../../district-reports/district-report'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/district-reports/:round', ({ access, params, query }) =>
  districtReport(access, params.round, query),
)
