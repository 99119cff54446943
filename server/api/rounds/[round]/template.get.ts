import { setResponseHeaders } from 'h3'
import { reportTemplate } from '../../../files/template'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/rounds/:round/template', async ({ access, params, query, event }) => {
  const { name, type, bytes } = await reportTemplate(access, params.round, query)
  setResponseHeaders(event, {
    'content-type': type,
    'content-disposition': `attachment; filename="${name.replaceAll('/', '-')}"`,
  })
  // A file's answer is its bytes.
  return bytes as unknown as string
})
