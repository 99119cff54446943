import { defineRoute } from '../../../../http/define-route'
import { applyChanges } from '../../../../reporting/apply-changes'

export default defineRoute('POST /api/reports/:round/:unit/changes', ({ access, params, body }) =>
  applyChanges(access, params.round, params.unit, body.origin, body.changes),
)
