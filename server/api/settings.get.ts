import { defineRoute } from '../http/define-route'
import { readSettings } from '../installation/change-settings'

export default defineRoute('GET /api/settings', ({ access }) => readSettings(access))
