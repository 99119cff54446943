import { defineRoute } from '../http/define-route'
import { changeSettings } from '../installation/change-settings'

export default defineRoute('PUT /api/settings', async ({ access, body }) => {
  await changeSettings(access, body)
  return { done: true }
})
