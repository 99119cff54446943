import { setResponseHeaders } from 'h3'
import { defineRoute } from '../../http/define-route'
import { exportUnits } from '../../units/read'

export default defineRoute('GET /api/units/export', async ({ access, query, event }) => {
  const { text, type, name } = await exportUnits(access, query.format, query.day)
  setResponseHeaders(event, { 'content-type': type, 'content-disposition': `attachment; filename="${name}"` })
  return text
})
