import { extractById } from '../../extracts/saved'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/extracts/:id', ({ access, params }) => extractById(access, params.id))
