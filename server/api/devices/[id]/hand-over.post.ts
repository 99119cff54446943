import { handOver } from '../../../desk/devices'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/devices/:id/hand-over', async ({ access, params, body }) => {
  await handOver(access, params.id, body.name)
  return { done: true }
})
