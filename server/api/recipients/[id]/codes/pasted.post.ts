import { defineRoute } from '../../../../http/define-route'
import { pasteCodes } from '../../../../recipients/codes'

export default defineRoute('POST /api/recipients/:id/codes/pasted', ({ access, params, body }) =>
  pasteCodes(access, params.id, body),
)
