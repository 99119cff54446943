import { defineRoute } from '../../../../../http/define-route'
import { cellStory } from '../../../../../reports/cell-story'

export default defineRoute('GET /api/reports/:round/:unit/cells/:cell', ({ access, params }) =>
  cellStory(access, params.round, params.unit, params.cell),
)
