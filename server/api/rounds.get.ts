import { defineRoute } from '../http/define-route'
import { listRounds } from '../rounds/list'

export default defineRoute('GET /api/rounds', ({ access }) => listRounds(access))
