import { defineRoute } from '../../../../http/define-route'
import { removeContact } from '../../../../nudges/contacts'

export default defineRoute('DELETE /api/facilities/:unit/contacts/:id', async ({ access, params }) => {
  await removeContact(access, params.unit, params.id)
  return { done: true }
})
