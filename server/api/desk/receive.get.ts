import { database } from '../../database'
import { noteContact } from '../../desk/contacts'
import { deviceOf } from '../../desk/devices'
import { receiveSince } from '../../desk/receive'
import { standing, viewOf } from '../../desk/standing'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/receive', async ({ access, query, event }) => {
  const { id, settings } = await deviceOf(event, { access })
  const sql = await database()
  await noteContact(sql, access, { device: id, says: query })
  return { ...(await receiveSince(access, query)), settings, view: viewOf(access), ...(await standing(sql)) }
})
