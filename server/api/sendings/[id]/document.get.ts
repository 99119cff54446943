import { defineRoute } from '../../../http/define-route'
import { answerAsFile } from '../../../http/file-headers'
import { sentDocument } from '../../../sending/list'

export default defineRoute('GET /api/sendings/:id/document', async ({ access, params, event }) => {
  const { name, mediaType, bytes } = await sentDocument(access, params.id)
  answerAsFile(event, { name, type: mediaType })
  // A file's answer is its bytes.
  return bytes as unknown as string
})
