import { defineRoute } from '../../http/define-route'
import { nudgeRules } from '../../nudges/rules'

export default defineRoute('GET /api/nudges/rules', ({ access }) => nudgeRules(access))
