import { setResponseHeaders } from 'h3'
import { defineRoute } from '../../../http/define-route'
import { sentDocument } from '../../../sending/list'

export default defineRoute('GET /api/sendings/:id/document', async ({ access, params, event }) => {
  const { name, mediaType, bytes } = await sentDocument(access, params.id)
  setResponseHeaders(event, {
    'content-type': mediaType,
    'content-disposition': `attachment; filename="${name.replaceAll('/', '-')}"`,
  })
  // A file's answer is its bytes.
  return bytes as unknown as string
})
