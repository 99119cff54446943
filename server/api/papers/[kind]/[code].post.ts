import { savePaper } from '../../../definitions/papers'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/papers/:kind/:code', async ({ access, params, body }) => ({
  id: await savePaper(access, params, body.base64),
}))
