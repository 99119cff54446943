import { standingOf } from '../../desk/devices'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/standing', ({ event }) => standingOf(event))
