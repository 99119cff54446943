import { listExtracts } from '../extracts/saved'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/extracts', ({ access, query }) => listExtracts(access, query))
