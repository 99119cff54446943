import { defineRoute } from '../../../http/define-route'
import { endToken } from '../../../people/tokens'

export default defineRoute('POST /api/tokens/:id/end', async ({ access, params }) => {
  await endToken(access, params.id)
  return { done: true as const }
})
