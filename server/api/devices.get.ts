import { listDevices } from '../desk/device-list'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/devices', ({ access, query, event }) =>
  listDevices(access, query, useRuntimeConfig(event).app.buildId),
)
