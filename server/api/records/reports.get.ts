import { defineRoute } from '../../http/define-route'
import { reportRecords } from '../../machines/records'

export default defineRoute('GET /api/records/reports', ({ access, query }) => reportRecords(access, query))
