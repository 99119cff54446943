import { undoPair } from '../../../cases/pair-acts'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/case-pairs/:id/undo', async ({ access, params }) => {
  await undoPair(access, params.id)
  return { done: true }
})
