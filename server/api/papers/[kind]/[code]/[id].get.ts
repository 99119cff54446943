import { setResponseHeader } from 'h3'
import { readPaper } from '../../../../definitions/papers'
import { defineRoute } from '../../../../http/define-route'

export default defineRoute('GET /api/papers/:kind/:code/:id', async ({ params, event }) => {
  const { type, bytes } = await readPaper(params)
  setResponseHeader(event, 'content-type', type)
  // A file's answer is its bytes.
  return Buffer.from(bytes) as unknown as string
})
