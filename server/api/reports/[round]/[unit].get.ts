import { defineRoute } from '../../../http/define-route'
import { reportFile } from '../../../reports/file'

export default defineRoute('GET /api/reports/:round/:unit', ({ access, params }) =>
  reportFile(access, params.round, params.unit),
)
