import { unitAsked } from '../../../access/access'
import { nowText } from '../../../clock'
import { defineRoute } from '../../../http/define-route'
import { acceptClean } from '../../../reporting/review'

export default defineRoute('POST /api/rounds/:round/accept', async ({ access, params, body }) => {
  const { code } = await unitAsked(access, body.unit)
  return { accepted: await acceptClean(access, params.round, code, nowText(), body.units) }
})
