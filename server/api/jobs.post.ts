import { defineRoute } from '../http/define-route'
import { askByHand } from '../jobs/list'

export default defineRoute('POST /api/jobs', ({ access, body }) => askByHand(access, body.kind))
