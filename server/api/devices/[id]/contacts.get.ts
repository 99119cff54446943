import { contactsOf } from '../../../desk/contacts'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/devices/:id/contacts', ({ access, params, query }) =>
  contactsOf(access, params.id, query),
)
