import { caseDoubtFile } from '../../discrepancies/about-cases'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/case-doubts/:id', ({ access, params }) =>
  caseDoubtFile(access, params.id),
)
