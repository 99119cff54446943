import { pairDevice } from '../../desk/pair'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/desk/pair', ({ body }) => pairDevice(body))
