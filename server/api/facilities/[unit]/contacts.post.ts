import { defineRoute } from '../../../http/define-route'
import { addContact } from '../../../nudges/contacts'

export default defineRoute('POST /api/facilities/:unit/contacts', ({ access, params, body }) =>
  addContact(access, params.unit, body),
)
