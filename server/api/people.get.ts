import { defineRoute } from '../http/define-route'
import { listPeople } from '../people/manage'

export default defineRoute('GET /api/people', ({ access, query }) => listPeople(access, query))
