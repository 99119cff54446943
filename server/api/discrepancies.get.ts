import { listDiscrepancies } from '../discrepancies/list'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/discrepancies', ({ access, query }) => listDiscrepancies(access, query))
