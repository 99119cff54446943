import { askAboutCount } from '../../../../../../discrepancies/act'
import { defineRoute } from '../../../../../../http/define-route'

export default defineRoute(
  'POST /api/rounds/:round/case-counts/:count/:unit/ask',
  ({ access, params, body }) => askAboutCount(access, params.round, params.count, params.unit, body.text),
)
