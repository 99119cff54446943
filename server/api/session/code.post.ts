import { accessById } from '../../access/access'
import { defineRoute } from '../../http/define-route'
import { sessionView } from '../../people/session-view'
import { signInByCode } from '../../people/sign-in'

export default defineRoute('POST /api/session/code', async ({ body, event }) =>
  sessionView(await accessById(await signInByCode(event, body))),
)
