import { askForFile } from '../extracts/files'
import { defineRoute } from '../http/define-route'
import { lookForJobs } from '../jobs/start'

export default defineRoute('POST /api/extract-files', async ({ access, body }) => {
  const file = await askForFile(access, body)
  lookForJobs()
  return file
})
