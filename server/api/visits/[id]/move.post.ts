import { defineRoute } from '../../../http/define-route'
import { moveVisit } from '../../../visits/visits'

export default defineRoute('POST /api/visits/:id/move', async ({ access, params, body }) => {
  await moveVisit(access, params.id, body)
  return { done: true }
})
