import { saveExtract } from '../extracts/saved'
import { defineRoute } from '../http/define-route'

export default defineRoute('POST /api/extracts', ({ access, body }) => saveExtract(access, body))
