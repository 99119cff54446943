import { defineRoute } from '../../../http/define-route'
import { board } from '../../../overview/board'

export default defineRoute('GET /api/rounds/:round/board', ({ access, params, query }) =>
  board(access, params.round, query.unit),
)
