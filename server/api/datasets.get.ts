import { listDatasets } from '../datasets/list'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/datasets', ({ access }) => listDatasets(access))
