import { takePaper } from '../../cases/take-paper'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/cases/paper', ({ access, body }) => takePaper(access, body))
