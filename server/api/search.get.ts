import { defineRoute } from '../http/define-route'
import { search } from '../search/search'

export default defineRoute('GET /api/search', ({ access, query }) => search(access, query.q))
