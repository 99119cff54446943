import { defineRoute } from '../http/define-route'
import { listNudges } from '../nudges/list'

export default defineRoute('GET /api/nudges', ({ access, query }) => listNudges(access, query))
