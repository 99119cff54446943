import { removeExtract } from '../../extracts/saved'
import { defineRoute } from '../../http/define-route'

export default defineRoute('DELETE /api/extracts/:id', async ({ access, params }) => {
  await removeExtract(access, params.id)
  return { done: true as const }
})
