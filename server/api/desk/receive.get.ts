import { database } from '../../database'
import { deviceOf } from '../../desk/devices'
import { receiveSince } from '../../desk/receive'
import { standing } from '../../desk/standing'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/receive', async ({ access, query, event }) => {
  const { settings } = await deviceOf(event, { access })
  return { ...(await receiveSince(access, query)), settings, ...(await standing(await database())) }
})
