import { draftFile } from '../../publishing/dataset-drafts'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/drafts/:dataset', ({ access, params }) =>
  draftFile(access, params.dataset),
)
