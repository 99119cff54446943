import { listCards } from '../desk/cards'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/pairing-cards', ({ access }) => listCards(access))
