import { pairAgain } from '../../../desk/devices'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/devices/:id/pair-again', ({ access, params }) =>
  pairAgain(access, params.id),
)
