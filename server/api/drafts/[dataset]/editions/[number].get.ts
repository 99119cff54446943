import { oneEdition } from '../../../../datasets/history'
import { defineRoute } from '../../../../http/define-route'

export default defineRoute('GET /api/drafts/:dataset/editions/:number', ({ params }) =>
  oneEdition(params.dataset, Number(params.number)),
)
