import { signDistrict } from '../../../district-reports/district-report'
import { defineRoute } from '../../../http/define-route'

export default defineRoute('POST /api/district-reports/:round/sign', async ({ access, params, body }) => {
  await signDistrict(access, params.round, body.checksum, body.unit)
  return { done: true }
})
