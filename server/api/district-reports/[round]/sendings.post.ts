import { defineRoute } from '../../../http/define-route'
import { lookForJobs } from '../../../jobs/start'
import { askToSend } from '../../../sending/ask'

export default defineRoute('POST /api/district-reports/:round/sendings', async ({ access, params, body }) => {
  await askToSend(access, params.round, body)
  lookForJobs()
  return { done: true as const }
})
