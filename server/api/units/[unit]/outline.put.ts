import { defineRoute } from '../../../http/define-route'
import { saveOutline } from '../../../units/outlines'

export default defineRoute('PUT /api/units/:unit/outline', async ({ access, params, body }) => {
  await saveOutline(access, params.unit, body.geometry)
  return { done: true }
})
