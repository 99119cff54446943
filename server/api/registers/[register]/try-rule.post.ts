import { tryCaseRule } from '../../../cases/try-rule'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/registers/:register/try-rule', ({ access, params, body }) =>
  tryCaseRule(access, params.register, body),
)
