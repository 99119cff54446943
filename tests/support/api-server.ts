import type { TestProject } from 'vitest/node'
import { startDemo } from './server'

declare module 'vitest' {
  export interface ProvidedContext {
    address: string
  }
}

/** One server with the demo in a database in memory, for all API tests. */
export default async function setup(project: TestProject) {
  const server = await startDemo()
  project.provide('address', server.address)
  return async () => {
    await server.stop()
  }
}
