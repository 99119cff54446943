import { defineRoute } from '../../http/define-route'
import { listUnitChanges } from '../../units/change'

export default defineRoute('GET /api/units/changes', () => listUnitChanges())
