import { deviceOf } from '../../../desk/devices'
import { applyPiece } from '../../../desk/files'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('PUT /api/desk/files/:hash', async ({ access, params, body, event }) =>
  applyPiece(await deviceOf(event, { access, sending: true }), params.hash, body),
)
