import { deskDefinitions } from '../../desk/work'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/definitions', ({ access }) => deskDefinitions(access))
