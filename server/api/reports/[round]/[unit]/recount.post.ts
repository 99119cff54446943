import { defineRoute } from '../../../../http/define-route'
import { saveRecount } from '../../../../visits/recount'

export default defineRoute('POST /api/reports/:round/:unit/recount', async ({ access, params, body }) => {
  await saveRecount(access, params.round, params.unit, body)
  return { done: true }
})
