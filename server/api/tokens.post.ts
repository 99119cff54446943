import { defineRoute } from '../http/define-route'
import { makeToken } from '../people/tokens'

export default defineRoute('POST /api/tokens', ({ access, body }) => makeToken(access, body))
