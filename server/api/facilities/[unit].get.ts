import { defineRoute } from '../../http/define-route'
import { facilityFile } from '../../overview/facility'

export default defineRoute('GET /api/facilities/:unit', ({ access, params }) =>
  facilityFile(access, params.unit),
)
