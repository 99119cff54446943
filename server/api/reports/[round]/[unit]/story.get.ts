import { defineRoute } from '../../../../http/define-route'
import { reportStory } from '../../../../reports/report-story'

export default defineRoute('GET /api/reports/:round/:unit/story', ({ access, params }) =>
  reportStory(access, params.round, params.unit),
)
