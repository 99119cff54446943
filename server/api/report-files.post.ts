import { defineRoute } from '../http/define-route'
import { previewReportFile } from '../files/plan'

export default defineRoute('POST /api/report-files', ({ access, body }) => previewReportFile(access, body))
