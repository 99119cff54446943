import { defineRoute } from '../../http/define-route'
import { saveNudgeText } from '../../nudges/rules'

export default defineRoute('PUT /api/nudges/text', async ({ access, body }) => {
  await saveNudgeText(access, body.text)
  return { done: true }
})
