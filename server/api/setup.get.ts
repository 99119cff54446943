import { defineRoute } from '../http/define-route'
import { needsFirstAdministrator } from '../people/first-administrator'

export default defineRoute('GET /api/setup', async () => ({ needed: await needsFirstAdministrator() }))
