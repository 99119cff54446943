import { defineRoute } from '../http/define-route'
import { visitProposals } from '../visits/proposals'

export default defineRoute('GET /api/visit-proposals', ({ access, query }) => visitProposals(access, query))
