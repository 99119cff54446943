import { makeCard } from '../desk/cards'
import { defineRoute } from '../http/define-route'

export default defineRoute('POST /api/pairing-cards', ({ access, body }) => makeCard(access, body))
