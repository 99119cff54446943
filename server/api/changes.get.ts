import { defineRoute } from '../http/define-route'
import { readFeed } from '../machines/feed'

export default defineRoute('GET /api/changes', ({ access, query }) => readFeed(access, query.after))
