import { addressOf } from '../../access/tries'
import { pairDevice } from '../../desk/pair'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/desk/pair', ({ body, event }) => pairDevice(body, addressOf(event)))
