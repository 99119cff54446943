import { defineRoute } from '../http/define-route'
import { listGroups } from '../units/groups'

export default defineRoute('GET /api/unit-groups', ({ access }) => listGroups(access))
