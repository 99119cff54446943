import { defineRoute } from '../../../http/define-route'
import { withdrawRecount } from '../../../visits/recount'

export default defineRoute('POST /api/recounts/:id/withdraw', async ({ access, params }) => {
  await withdrawRecount(access, params.id)
  return { done: true }
})
