import { defineRoute } from '../../../http/define-route'
import { lookForJobs } from '../../../jobs/start'
import { sendAgain } from '../../../sending/ask'

export default defineRoute('POST /api/sendings/:id/again', async ({ access, params }) => {
  await sendAgain(access, params.id)
  lookForJobs()
  return { done: true as const }
})
