import { defineRoute } from '../../../http/define-route'
import { publishRegister } from '../../../registers/drafts'

export default defineRoute('POST /api/registers/:register/publish', async ({ access, params, body }) => ({
  number: await publishRegister(access, params.register, body.version),
}))
