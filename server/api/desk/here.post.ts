import { deviceHere } from '../../desk/pair'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/desk/here', ({ access, body }) => deviceHere(access, body.keys))
