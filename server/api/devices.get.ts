import { listDevices } from '../desk/devices'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/devices', ({ access }) => listDevices(access))
