import { serve } from '../../scripts/serve.mjs'
import { freePort } from '../../tests/support/server'

export interface Server {
  child: { pid: number; kill: (signal: string) => void; once: (event: string, then: () => void) => void }
  address: string
  ready: Promise<string>
}

/** A built server on the province that is measured. @param env more of its environment */
export async function start(data: string, env: Record<string, string> = {}): Promise<Server> {
  const server = serve({
    data,
    port: await freePort(),
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { LANTERN_BACKUP_HOURS: '0', ...env },
  }) as unknown as Server
  await server.ready
  return server
}

export const stop = ({ child }: Server): Promise<void> =>
  new Promise(resolve => {
    child.once('exit', resolve)
    child.kill('SIGTERM')
  })
