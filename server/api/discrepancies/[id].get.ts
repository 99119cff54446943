import { discrepancyFile } from '../../discrepancies/read'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/discrepancies/:id', ({ access, params }) =>
  discrepancyFile(access, params.id),
)
