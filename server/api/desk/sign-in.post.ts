import { getRequestHeader } from 'h3'
import { addressOf } from '../../access/tries'
import { signInAtDevice } from '../../desk/pair'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/desk/sign-in', ({ body, event }) =>
  signInAtDevice(getRequestHeader(event, 'x-lantern-device'), body, addressOf(event)),
)
