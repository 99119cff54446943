import { fieldList } from '../extracts/sources'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/extract-fields', ({ access, query }) => fieldList(access, query))
