import { defineRoute } from '../../../http/define-route'
import { renewCode } from '../../../people/manage'

export default defineRoute('POST /api/people/:id/code', ({ access, params }) => renewCode(access, params.id))
