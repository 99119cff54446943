import { reportTemplate } from '../../../files/template'
import { defineRoute } from '../../../http/define-route'
import { answerAsFile } from '../../../http/file-headers'

export default defineRoute('GET /api/rounds/:round/template', async ({ access, params, query, event }) => {
  const { bytes, ...file } = await reportTemplate(access, params.round, query)
  answerAsFile(event, file)
  // A file's answer is its bytes.
  return bytes as unknown as string
})
