import { defineRoute } from '../../../../http/define-route'
import { conflictSides } from '../../../../reports/conflicts'

export default defineRoute('GET /api/reports/:round/:unit/conflicts', ({ access, params }) =>
  conflictSides(access, params.round, params.unit),
)
