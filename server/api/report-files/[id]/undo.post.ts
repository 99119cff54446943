import { defineRoute } from '../../../http/define-route'
import { undoReportFile } from '../../../files/ask'

export default defineRoute('POST /api/report-files/:id/undo', ({ access, params }) =>
  undoReportFile(access, params.id),
)
