import { defineRoute } from '../http/define-route'
import { listPlaces } from '../units/read'

export default defineRoute('GET /api/places', () => listPlaces())
