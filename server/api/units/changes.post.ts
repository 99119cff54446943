import { defineRoute } from '../../http/define-route'
import { applyUnits } from '../../units/change'

export default defineRoute('POST /api/units/changes', async ({ access, body: { basis, ...source } }) => ({
  id: await applyUnits(access, source, basis),
}))
