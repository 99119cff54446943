import { defineRoute } from '../../../http/define-route'
import { listCodes } from '../../../recipients/codes'

export default defineRoute('GET /api/recipients/:id/codes', ({ access, params, query }) =>
  listCodes(access, params.id, query),
)
