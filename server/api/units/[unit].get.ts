import { defineRoute } from '../../http/define-route'
import { unitFile } from '../../units/read'

export default defineRoute('GET /api/units/:unit', ({ access, params }) => unitFile(access, params.unit))
