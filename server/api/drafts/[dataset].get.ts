import { draftFile } from '../../datasets/drafts'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/drafts/:dataset', ({ access, params }) =>
  draftFile(access, params.dataset),
)
