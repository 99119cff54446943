import { defineRoute } from '../http/define-route'
import { listReportFiles } from '../files/list'

export default defineRoute('GET /api/report-files', ({ access, query }) => listReportFiles(access, query))
