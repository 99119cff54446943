import { setResponseHeaders } from 'h3'
import { districtCsv } from '../../../district-reports/csv'
import { districtReport } from '../../../district-reports/district-report'
import { defineRoute } from '../../../http/define-route'

export default defineRoute(
  'GET /api/district-reports/:round/csv',
  async ({ access, params, query, event }) => {
    const report = await districtReport(access, params.round, { unit: query.unit })
    setResponseHeaders(event, {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="${report.figures.unit.code.replaceAll('/', '-')}-${params.round.replace('~', '-')}.csv"`,
    })
    return districtCsv(report, query.language ?? 'en')
  },
)
