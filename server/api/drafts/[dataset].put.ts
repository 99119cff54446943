import { saveDraft } from '../../publishing/dataset-drafts'
import { defineRoute } from '../../http/define-route'

export default defineRoute('PUT /api/drafts/:dataset', ({ access, params, body }) =>
  saveDraft(access, params.dataset, body),
)
