import { listMakers } from '../extracts/makers'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/extract-makers', ({ access, query }) => listMakers(access, query))
