import { defineRoute } from '../../../http/define-route'
import { applyReportFile } from '../../../files/ask'

export default defineRoute('POST /api/report-files/:id/apply', ({ access, params, body }) =>
  applyReportFile(access, params.id, body.why),
)
