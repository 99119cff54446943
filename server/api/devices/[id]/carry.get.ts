import { setResponseHeader } from 'h3'
import { carryBack } from '../../../desk/carry'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('GET /api/devices/:id/carry', async ({ access, params, query, event }) => {
  const { text } = await carryBack(access, params.id, query.person)
  setResponseHeader(event, 'content-type', 'text/plain')
  return text
})
