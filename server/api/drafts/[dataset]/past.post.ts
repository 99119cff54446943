import { pastOf } from '../../../reports/past'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/drafts/:dataset/past', ({ access, params, body }) =>
  pastOf(access, params.dataset, body),
)
