import { defineRoute } from '../../../http/define-route'
import { saveCodes } from '../../../recipients/codes'

export default defineRoute('POST /api/recipients/:id/codes', ({ access, params, body }) =>
  saveCodes(access, params.id, body),
)
