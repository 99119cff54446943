import { defineRoute } from '../../http/define-route'
import { changeRecipient } from '../../recipients/recipients'

export default defineRoute('PUT /api/recipients/:id', ({ access, params, body }) =>
  changeRecipient(access, params.id, body),
)
