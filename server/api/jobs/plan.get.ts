import { defineRoute } from '../../http/define-route'
import { jobPlan } from '../../jobs/list'

export default defineRoute('GET /api/jobs/plan', ({ access }) => jobPlan(access))
