import { deskWork } from '../../desk/work'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/work', ({ access }) => deskWork(access))
