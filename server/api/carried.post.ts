import { takeInCarried } from '../desk/carry'
import { defineRoute } from '../http/define-route'

export default defineRoute('POST /api/carried', ({ access, body }) => takeInCarried(access, body.file))
