import { listDrafts } from '../datasets/drafts'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/drafts', () => listDrafts())
