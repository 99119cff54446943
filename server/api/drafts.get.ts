import { listDrafts } from '../publishing/dataset-drafts'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/drafts', () => listDrafts())
