import { reopen } from '../../../discrepancies/act'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/discrepancies/:id/reopen', async ({ access, params, body }) => {
  await reopen(access, params.id, body.text)
  return { done: true }
})
