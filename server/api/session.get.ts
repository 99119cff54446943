import { defineRoute } from '../http/define-route'
import { sessionView } from '../people/session-view'

export default defineRoute('GET /api/session', ({ access }) => sessionView(access))
