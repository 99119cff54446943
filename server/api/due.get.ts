import { defineRoute } from '../http/define-route'
import { dueList } from '../overview/due'

export default defineRoute('GET /api/due', ({ access }) => dueList(access))
