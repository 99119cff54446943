import { defineRoute } from '../../../../http/define-route'
import { oneRegisterEdition } from '../../../../registers/drafts'

export default defineRoute('GET /api/registers/:register/editions/:number', ({ params }) =>
  oneRegisterEdition(params.register, Number(params.number)),
)
