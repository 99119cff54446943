import { defineRoute } from '../../http/define-route'
import { previewUnits } from '../../units/plan'

export default defineRoute('POST /api/units/preview', ({ access, body }) => previewUnits(access, body))
