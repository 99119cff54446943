import { defineRoute } from '../../http/define-route'
import { caseRecords } from '../../machines/records'

export default defineRoute('GET /api/records/cases', ({ access, query }) => caseRecords(access, query))
