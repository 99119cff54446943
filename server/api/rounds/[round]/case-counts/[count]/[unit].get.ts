import { caseCountFile } from '../../../../../case-counts/compare'
import { defineRoute } from '../../../../../http/define-route'

export default defineRoute('GET /api/rounds/:round/case-counts/:count/:unit', ({ access, params }) =>
  caseCountFile(access, params.round, params.count, params.unit),
)
