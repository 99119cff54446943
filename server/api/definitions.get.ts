import { setResponseHeaders } from 'h3'
import { exportBundle } from '../bundles/bundle'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/definitions', async ({ access, event }) => {
  setResponseHeaders(event, {
    'content-type': 'application/json; charset=utf-8',
    'content-disposition': 'attachment; filename="definitions.json"',
  })
  return exportBundle(access)
})
