import { listPapers } from '../../../definitions/papers'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/papers/:kind/:code', ({ params }) => listPapers(params))
