import { publishDraft } from '../../../publishing/dataset-drafts'
import { judgeSoon } from '../../../checks/judge-again'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/drafts/:dataset/publish', async ({ access, params, body }) => {
  const number = await publishDraft(access, params.dataset, body.version, body.from)
  judgeSoon()
  return { number }
})
