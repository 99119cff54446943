import { defineRoute } from '../http/define-route'
import { listVisits } from '../visits/visits'

export default defineRoute('GET /api/visits', ({ access, query }) => listVisits(access, query))
