import { changeExtract } from '../../extracts/saved'
import { defineRoute } from '../../http/define-route'

export default defineRoute('PUT /api/extracts/:id', ({ access, params, body }) =>
  changeExtract(access, params.id, body),
)
