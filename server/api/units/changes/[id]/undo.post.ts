import { defineRoute } from '../../../../http/define-route'
import { undoUnits } from '../../../../units/change'

export default defineRoute('POST /api/units/changes/:id/undo', async ({ access, params }) => {
  await undoUnits(access, params.id)
  return { done: true }
})
