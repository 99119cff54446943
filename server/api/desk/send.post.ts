import { nowText } from '../../clock'
import { database } from '../../database'
import { noteContact } from '../../desk/contacts'
import { clockOffset, deviceOf } from '../../desk/devices'
import { applySent } from '../../desk/send'
import { standing } from '../../desk/standing'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/desk/send', async ({ access, body, event }) => {
  const device = await deviceOf(event, { access, sending: true, claimed: body.device, clock: body.clock })
  const outcomes = await applySent(access, device, {
    clockOffset: clockOffset(body.clock),
    changes: body.changes,
  })
  const sql = await database()
  await noteContact(sql, access, { device: device.id, outcomes })
  return { outcomes, at: nowText(), ...(await standing(sql)) }
})
