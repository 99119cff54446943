import { defineRoute } from '../../../../http/define-route'
import { useOwnCodes } from '../../../../recipients/codes'

export default defineRoute('POST /api/recipients/:id/codes/ours', ({ access, params, body }) =>
  useOwnCodes(access, params.id, body.dataset),
)
