import { deskRegisters } from '../../cases/registers'
import { registersSeen } from '../../cases/shared'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/registers', async ({ access }) =>
  registersSeen(access, await deskRegisters()),
)
