import { answer } from '../../../discrepancies/act'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/discrepancies/:id/answer', async ({ access, params, body }) => {
  await answer(access, params.id, body.text, body.corrections)
  return { done: true }
})
