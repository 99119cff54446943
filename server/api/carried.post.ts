import { applyCarried } from '../desk/carry'
import { defineRoute } from '../http/define-route'

export default defineRoute('POST /api/carried', ({ access, body }) => applyCarried(access, body.file))
