import { DEFINE_ROUTES } from './routes/define-routes'
import { DESK_ROUTES } from './routes/desk-routes'
import { EXTRACT_ROUTES } from './routes/extract-routes'
import { GATHER_ROUTES } from './routes/gather-routes'
import { VISIT_ROUTES } from './routes/visit-routes'
import { JOB_ROUTES } from './routes/job-routes'
import { PEOPLE_ROUTES } from './routes/people-routes'
import { ROUND_ROUTES } from './routes/round-routes'
import { SENDING_ROUTES } from './routes/sending-routes'
import { TOKEN_ROUTES } from './routes/token-routes'
import { UNIT_ROUTES } from './routes/unit-routes'

export { mostBytesOf, type RouteContract } from './routes/route'

/**
 * Every route of the API, by method and path. A file in `server/api` without a line here answers nothing and fails a
 * test.
 */
export const ROUTES = {
  ...PEOPLE_ROUTES,
  ...TOKEN_ROUTES,
  ...UNIT_ROUTES,
  ...DEFINE_ROUTES,
  ...ROUND_ROUTES,
  ...GATHER_ROUTES,
  ...VISIT_ROUTES,
  ...SENDING_ROUTES,
  ...EXTRACT_ROUTES,
  ...DESK_ROUTES,
  ...JOB_ROUTES,
}

export type RouteName = keyof typeof ROUTES
