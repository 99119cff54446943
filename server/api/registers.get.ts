import { defineRoute } from '../http/define-route'
import { listRegisters } from '../registers/drafts'

export default defineRoute('GET /api/registers', () => listRegisters())
