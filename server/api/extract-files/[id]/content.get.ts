import { downloadFile } from '../../../extracts/files'
import { defineRoute } from '../../../http/define-route'
import { answerAsFile } from '../../../http/file-headers'

export default defineRoute('GET /api/extract-files/:id/content', async ({ access, params, event }) => {
  const { stream, ...file } = await downloadFile(access, params.id)
  answerAsFile(event, file)
  // A file's answer is its bytes.
  return stream as unknown as string
})
