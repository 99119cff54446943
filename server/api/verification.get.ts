import { defineRoute } from '../http/define-route'
import { verification } from '../visits/verification'

export default defineRoute('GET /api/verification', ({ access, query }) => verification(access, query))
