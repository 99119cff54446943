import { defineRoute } from '../../http/define-route'
import { saveGroup } from '../../units/groups'

export default defineRoute('PUT /api/unit-groups/:group', async ({ access, params, body }) => {
  await saveGroup(access, params.group, body)
  return { done: true }
})
