import { caseCounts } from '../../../case-counts/compare'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/rounds/:round/case-counts', ({ access, params, query }) =>
  caseCounts(access, params.round, query),
)
