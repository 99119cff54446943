import { defineRoute } from '../http/define-route'
import { addRecipient } from '../recipients/recipients'

export default defineRoute('POST /api/recipients', ({ access, body }) => addRecipient(access, body))
