import { pairFile } from '../../cases/pair-list'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/case-pairs/:id', ({ access, params }) => pairFile(access, params.id))
