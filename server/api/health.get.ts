import { health } from '../health/health'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/health', health)
