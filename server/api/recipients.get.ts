import { defineRoute } from '../http/define-route'
import { listRecipients } from '../recipients/recipients'

export default defineRoute('GET /api/recipients', ({ access }) => listRecipients(access))
