import { deskRegisters } from '../../cases/registers'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/registers', () => deskRegisters())
