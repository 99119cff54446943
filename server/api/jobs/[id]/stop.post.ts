import { defineRoute } from '../../../http/define-route'
import { stopJob } from '../../../jobs/list'

export default defineRoute('POST /api/jobs/:id/stop', ({ access, params }) => stopJob(access, params.id))
