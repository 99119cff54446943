import { defineRoute } from '../../http/define-route'
import { saveRegister } from '../../registers/drafts'

export default defineRoute('PUT /api/registers/:register', ({ access, params, body }) =>
  saveRegister(access, params.register, body),
)
