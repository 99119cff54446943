import { previewExtract } from '../extracts/open'
import { defineRoute } from '../http/define-route'

export default defineRoute('POST /api/extract-previews', ({ access, body }) => previewExtract(access, body))
