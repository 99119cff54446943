import { defineRoute } from '../../../http/define-route'
import { sendBackMany } from '../../../reporting/review'

export default defineRoute('POST /api/rounds/:round/send-back', async ({ access, params, body }) => ({
  sentBack: await sendBackMany(access, params.round, body.units, body.why),
}))
