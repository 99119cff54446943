import { blockDevice } from '../../../desk/devices'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/devices/:id/block', async ({ access, params, body }) => {
  await blockDevice(access, params.id, body.blocked, body.letsIn)
  return { done: true }
})
