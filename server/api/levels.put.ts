import { defineRoute } from '../http/define-route'
import { saveLevels } from '../units/levels'

export default defineRoute('PUT /api/levels', async ({ access, body }) => {
  await saveLevels(access, body)
  return { done: true }
})
