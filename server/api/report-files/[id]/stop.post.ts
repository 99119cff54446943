import { defineRoute } from '../../../http/define-route'
import { stopReportFile } from '../../../files/ask'

export default defineRoute('POST /api/report-files/:id/stop', ({ access, params }) =>
  stopReportFile(access, params.id),
)
