import { defineRoute } from '../../../http/define-route'
import { askNudges } from '../../../nudges/ask'

export default defineRoute('POST /api/rounds/:round/nudges', ({ access, params, body }) =>
  askNudges(access, params.round, body.units),
)
