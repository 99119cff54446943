import { keepApart } from '../../../cases/pair-acts'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/case-pairs/:id/apart', async ({ access, params, body }) => {
  await keepApart(access, params.id, body.text)
  return { done: true }
})
