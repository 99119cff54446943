import { defineRoute } from '../../http/define-route'
import { reportFileView } from '../../files/list'

export default defineRoute('GET /api/report-files/:id', ({ access, params }) =>
  reportFileView(access, params.id),
)
