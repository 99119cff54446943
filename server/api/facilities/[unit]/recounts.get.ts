import { defineRoute } from '../../../http/define-route'
import { recountChoices } from '../../../visits/recount'

export default defineRoute('GET /api/facilities/:unit/recounts', ({ access, params }) =>
  recountChoices(access, params.unit),
)
