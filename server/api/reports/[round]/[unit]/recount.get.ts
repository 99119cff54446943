import { defineRoute } from '../../../../http/define-route'
import { recountSheet } from '../../../../visits/recount'

export default defineRoute('GET /api/reports/:round/:unit/recount', ({ access, params }) =>
  recountSheet(access, params.round, params.unit),
)
