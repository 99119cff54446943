import { defineRoute } from '../http/define-route'
import { listTokens } from '../people/tokens'

export default defineRoute('GET /api/tokens', ({ access, query }) => listTokens(access, query.after))
