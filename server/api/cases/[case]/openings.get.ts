import { caseOpenings } from '../../../cases/openings'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/cases/:case/openings', ({ access, params, query }) =>
  caseOpenings(access, params.case, query),
)
