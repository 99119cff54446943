import { defineRoute } from '../../../http/define-route'
import { publishRegister } from '../../../registers/drafts'

export default defineRoute('POST /api/registers/:register/publish', async ({ params, body }) => ({ number: await publishRegister(params.register, body.version) }))
