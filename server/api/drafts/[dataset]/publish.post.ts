import { publishDraft } from '../../../publishing/dataset-drafts'
import { defineRoute } from '../../../http/define-route'
import { lookForJobs } from '../../../jobs/start'

export default defineRoute('POST /api/drafts/:dataset/publish', async ({ access, params, body }) => {
  const number = await publishDraft(access, params.dataset, body.version, body.from)
  lookForJobs()
  return { number }
})
