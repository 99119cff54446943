import { defineRoute } from '../../../http/define-route'
import { endRecipient } from '../../../recipients/recipients'

export default defineRoute('POST /api/recipients/:id/end', async ({ access, params }) => {
  await endRecipient(access, params.id)
  return { done: true as const }
})
