import { setResponseHeader } from 'h3'
import { storedFile } from '../../desk/files'
import { defineRoute } from '../../http/define-route'

export default defineRoute('GET /api/files/:hash', async ({ access, params, event }) => {
  const { mediaType, bytes } = await storedFile(access, params.hash)
  setResponseHeader(event, 'content-type', mediaType)
  // A file's answer is its bytes.
  return bytes as unknown as string
})
