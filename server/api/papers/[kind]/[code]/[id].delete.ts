import { removePaper } from '../../../../definitions/papers'
import { defineRoute } from '../../../../http/define-route'

export default defineRoute('DELETE /api/papers/:kind/:code/:id', async ({ params }) => {
  await removePaper(params)
  return { done: true }
})
