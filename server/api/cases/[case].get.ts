import { caseFile } from '../../cases/file'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/cases/:case', ({ access, params }) => caseFile(access, params.case))
