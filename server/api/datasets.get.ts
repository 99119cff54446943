import { listDatasets } from '../publishing/dataset-list'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/datasets', ({ access }) => listDatasets(access))
