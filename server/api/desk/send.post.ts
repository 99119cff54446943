import { nowText } from '../../clock'
import { deviceOf } from '../../desk/devices'
import { takeInSend } from '../../desk/send'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/desk/send', async ({ access, body, event }) => {
  const device = await deviceOf(event, { access, sending: true, claimed: body.device, clock: body.clock })
  return { outcomes: await takeInSend(access, device, body), at: nowText() }
})
