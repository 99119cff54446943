import { defineRoute } from '../../http/define-route'
import { changePerson } from '../../people/manage'

export default defineRoute('PUT /api/people/:id', async ({ access, params, body }) => {
  await changePerson(access, params.id, body)
  return { done: true }
})
