import { setResponseHeader } from 'h3'
import { metrics, METRICS_TYPE } from '../health/metrics'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/metrics', async ({ access, event }) => {
  const text = await metrics(access)
  setResponseHeader(event, 'content-type', METRICS_TYPE)
  return text
})
