import { may } from '#core/contract/permission'
import { takeBundle } from '../bundles/bundle'
import { defineRoute } from '../http/define-route'

export default defineRoute('POST /api/definitions', ({ access, body }) =>
  takeBundle(access, body.text, body.take, may(access, 'manageUnits')),
)
