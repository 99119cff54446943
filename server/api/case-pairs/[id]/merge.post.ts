import { mergePair } from '../../../cases/pair-acts'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/case-pairs/:id/merge', async ({ access, params, body }) => {
  await mergePair(access, params.id, body.kept)
  return { done: true }
})
