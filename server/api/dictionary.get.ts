import { dataDictionary } from '../extracts/dictionary'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/dictionary', ({ access, query }) => dataDictionary(access, query))
