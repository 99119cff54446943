import { listDiscrepancies } from '../discrepancies/read'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/discrepancies', ({ access, query }) => listDiscrepancies(access, query))
