import { defineRoute } from '../http/define-route'
import { listUnits } from '../units/read'

export default defineRoute('GET /api/units', ({ access, query }) => listUnits(access, query))
