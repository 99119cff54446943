import { accessById } from '../access/access'
import { defineRoute } from '../http/define-route'
import { sessionView } from '../people/session-view'
import { signIn } from '../people/sign-in'

export default defineRoute('POST /api/session', async ({ body, event }) =>
  sessionView(await accessById(await signIn(event, body))),
)
