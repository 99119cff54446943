import { removePaper } from '../../../../definitions/papers'
import { defineRoute } from '../../../../http/define-route'

export default defineRoute('DELETE /api/papers/:kind/:code/:id', async ({ access, params }) => {
  await removePaper(access, params)
  return { done: true }
})
