import { listPairs } from '../cases/pair-list'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/case-pairs', ({ access, query }) => listPairs(access, query))
