import { listCaseDoubts } from '../discrepancies/about-cases'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/case-doubts', ({ access, query }) => listCaseDoubts(access, query))
