import { listCases } from '../cases/list'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/cases', ({ access, query }) => listCases(access, query))
