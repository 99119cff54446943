import { defineRoute } from '../../http/define-route'
import { stopNudges } from '../../nudges/ask'

export default defineRoute('POST /api/nudges/stop', async ({ access, body }) => ({
  stopped: await stopNudges(access, body.ids),
}))
