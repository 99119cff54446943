import { defineRoute } from '../../../http/define-route'
import { stopSending } from '../../../sending/ask'

export default defineRoute('POST /api/sendings/:id/stop', async ({ access, params }) => {
  await stopSending(access, params.id)
  return { done: true as const }
})
