import { defineRoute } from '../../http/define-route'
import { settingsConsequences } from '../../installation/change-settings'

export default defineRoute('POST /api/settings/consequences', ({ access, body }) =>
  settingsConsequences(access, body),
)
