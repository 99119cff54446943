import { listEditions } from '../../../datasets/history'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/drafts/:dataset/editions', ({ params }) => listEditions(params.dataset))
