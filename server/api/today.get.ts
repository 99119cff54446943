import { defineRoute } from '../http/define-route'
import { today } from '../overview/today'

export default defineRoute('GET /api/today', ({ access, query }) => today(access, query.unit))
