import { deskRegisters } from '../../cases/list'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/desk/registers', () => deskRegisters())
