import { exportBundle } from '../bundles/bundle'
import { defineRoute } from '../http/define-route'
import { answerAsFile } from '../http/file-headers'

export default defineRoute('GET /api/definitions', async ({ access, event }) => {
  answerAsFile(event, { name: 'definitions.json', type: 'application/json; charset=utf-8' })
  return exportBundle(access)
})
