import { ask } from '../../../discrepancies/act'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/discrepancies/:id/ask', async ({ access, params, body }) => {
  await ask(access, params.id, body.text)
  return { done: true }
})
