import { districtCsv } from '../../../district-reports/csv'
import { districtReport } from '../../../district-reports/district-report'
import { defineRoute } from '../../../http/define-route'
import { answerAsFile } from '../../../http/file-headers'

export default defineRoute(
  'GET /api/district-reports/:round/csv',
  async ({ access, params, query, event }) => {
    const report = await districtReport(access, params.round, { unit: query.unit })
    const name = `${report.figures.unit.code}-${params.round.replace('~', '-')}.csv`
    answerAsFile(event, { name, type: 'text/csv; charset=utf-8' })
    return districtCsv(report, query.language ?? 'en')
  },
)
