import { collectDefaultMetrics, Histogram, Registry } from 'prom-client'

/** What this process measures of itself, in the words of Prometheus: requests, memory, event loop. */
export const registry = new Registry()
collectDefaultMetrics({ register: registry, prefix: 'lantern_' })

/** How long requests took, in seconds, by route and status. Paths are those of the contract: nobody is named. */
const requestSeconds = new Histogram({
  name: 'lantern_request_seconds',
  help: 'How long requests took, by route and status',
  labelNames: ['route', 'status'],
  buckets: [0.01, 0.03, 0.1, 0.3, 1, 3, 10],
  registers: [registry],
})

/** @param seconds from the request to its answer */
export const noteRequest = (route: string, status: number, seconds: number): void =>
  requestSeconds.observe({ route, status }, seconds)
