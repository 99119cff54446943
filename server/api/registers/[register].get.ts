import { defineRoute } from '../../http/define-route'
import { registerFile } from '../../registers/drafts'

export default defineRoute('GET /api/registers/:register', ({ access, params }) =>
  registerFile(access, params.register),
)
