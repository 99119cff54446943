import { publishDraft } from '../../../datasets/drafts'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/drafts/:dataset/publish', async ({ access, params, body }) => ({ number: await publishDraft(access, params.dataset, body.version) }))
