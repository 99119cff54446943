import { defineRoute } from '../../../http/define-route'
import { reportingOverTime } from '../../../overview/over-time'

export default defineRoute('GET /api/rounds/:round/over-time', ({ access, params, query }) =>
  reportingOverTime(access, params.round, query),
)
