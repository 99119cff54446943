import { extractFile } from '../../extracts/files'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/extract-files/:id', ({ access, params }) =>
  extractFile(access, params.id),
)
