import { DEFINE_ROUTES } from './routes/define-routes'
import { DESK_ROUTES } from './routes/desk-routes'
import { JOB_ROUTES } from './routes/job-routes'
import { PEOPLE_ROUTES } from './routes/people-routes'
import { ROUND_ROUTES } from './routes/round-routes'
import { UNIT_ROUTES } from './routes/unit-routes'

export { mostBytesOf, type RouteContract } from './routes/route'

/**
 * Every route of the API, by method and path. A file in `server/api` without a line here answers nothing and fails a
 * test.
 */
export const ROUTES = {
  ...PEOPLE_ROUTES,
  ...UNIT_ROUTES,
  ...DEFINE_ROUTES,
  ...ROUND_ROUTES,
  ...DESK_ROUTES,
  ...JOB_ROUTES,
}

export type RouteName = keyof typeof ROUTES
