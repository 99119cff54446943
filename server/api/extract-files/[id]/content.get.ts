import { setResponseHeaders } from 'h3'
import { downloadFile } from '../../../extracts/files'
import { defineRoute } from '../../../http/define-route'

/** A name of any letters (RFC 6266, with the signs that RFC 8187 does not take as they are). */
const encoded = (name: string) =>
  encodeURIComponent(name).replace(/['()*]/g, sign => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`)

export default defineRoute('GET /api/extract-files/:id/content', async ({ access, params, event }) => {
  const { name, type, bytes, stream } = await downloadFile(access, params.id)
  setResponseHeaders(event, {
    'content-type': type,
    'content-length': bytes,
    'content-disposition': `attachment; filename*=UTF-8''${encoded(name)}`,
  })
  // A file's answer is its bytes.
  return stream as unknown as string
})
