import { countedCases } from '../../../discrepancies/counted-cases'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/discrepancies/:id/cases', ({ access, params }) =>
  countedCases(access, params.id),
)
