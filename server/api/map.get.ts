import { defineRoute } from '../http/define-route'
import { branchMap } from '../units/outlines'

export default defineRoute('GET /api/map', ({ access, query }) => branchMap(access, query.unit))
