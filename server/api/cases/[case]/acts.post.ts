import { actOnCase } from '../../../cases/life'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/cases/:case/acts', async ({ access, params, body }) => {
  await actOnCase(access, params.case, body)
  return { done: true }
})
