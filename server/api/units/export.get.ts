import { defineRoute } from '../../http/define-route'
import { answerAsFile } from '../../http/file-headers'
import { exportUnits } from '../../units/read'

export default defineRoute('GET /api/units/export', async ({ access, query, event }) => {
  const { text, ...file } = await exportUnits(access, query.format, query.day)
  answerAsFile(event, file)
  return text
})
