import { defineRoute } from '../../../http/define-route'
import { undoAccept } from '../../../reporting/review'

export default defineRoute('POST /api/rounds/:round/undo-accept', async ({ access, params, body }) => ({
  undone: await undoAccept(access, params.round, body.units),
}))
