import { defineRoute } from '../../http/define-route'
import { saveChoiceList } from '../../registers/choice-lists'

export default defineRoute('PUT /api/choice-lists/:list', async ({ access, params, body }) => {
  await saveChoiceList(access, params.list, body)
  return { done: true }
})
