import { defineRoute } from '../http/define-route'
import { choiceLists } from '../registers/choice-lists'

export default defineRoute('GET /api/choice-lists', () => choiceLists())
