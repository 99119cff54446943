import { defineRoute } from '../../../../http/define-route'
import { previewNudges } from '../../../../nudges/ask'

export default defineRoute('POST /api/rounds/:round/nudges/preview', ({ access, params, body }) =>
  previewNudges(access, params.round, body.units),
)
