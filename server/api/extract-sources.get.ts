import { listSources } from '../extracts/sources'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/extract-sources', ({ access }) => listSources(access))
