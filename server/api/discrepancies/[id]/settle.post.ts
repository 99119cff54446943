import { settle } from '../../../discrepancies/act'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/discrepancies/:id/settle', async ({ access, params, body }) => {
  await settle(access, params.id, body.outcome, body.text, body.corrections)
  return { done: true }
})
