import { servicesOf } from '../../../reports/services'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/services/:dataset/:unit', ({ access, params }) =>
  servicesOf(access, params.dataset, params.unit),
)
