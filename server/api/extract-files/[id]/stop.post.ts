import { stopFile } from '../../../extracts/files'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/extract-files/:id/stop', ({ access, params }) =>
  stopFile(access, params.id),
)
