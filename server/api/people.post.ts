import { defineRoute } from '../http/define-route'
import { makePerson } from '../people/manage'

export default defineRoute('POST /api/people', ({ access, body }) => makePerson(access, body))
