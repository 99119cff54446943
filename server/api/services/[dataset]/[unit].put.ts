import { saveServices } from '../../../reports/services'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('PUT /api/services/:dataset/:unit', async ({ access, params, body }) => {
  await saveServices(access, params.dataset, params.unit, body)
  return { done: true }
})
