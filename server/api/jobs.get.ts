import { defineRoute } from '../http/define-route'
import { listJobs } from '../jobs/list'

export default defineRoute('GET /api/jobs', ({ access, query }) => listJobs(access, query))
