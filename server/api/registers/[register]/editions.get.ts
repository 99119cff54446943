import { defineRoute } from '../../../http/define-route'
import { registerEditions } from '../../../registers/drafts'

export default defineRoute('GET /api/registers/:register/editions', ({ params }) =>
  registerEditions(params.register),
)
