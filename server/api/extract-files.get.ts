import { listExtractFiles } from '../extracts/files'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/extract-files', ({ access, query }) => listExtractFiles(access, query))
