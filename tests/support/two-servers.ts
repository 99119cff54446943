import { Client, type Answer } from './client'
import { DEMO, demoPlace, startServer, type RunningServer } from './server'

/** Two processes on one database of a PostgreSQL server. */
export interface TwoServers {
  servers: [RunningServer, RunningServer]
  /** The address of their database. */
  data: string
  /** The address of one of them: even numbers the first, odd ones the second. */
  address: (which: number) => string
  /** Ends a process at once, as a power cut does, and starts it again on its port. */
  kill: (which: number) => Promise<void>
  stop: () => Promise<void>
}

/** Starts both on a copy of the demo. */
export async function startTwo(env: Record<string, string> = {}): Promise<TwoServers> {
  const place = await demoPlace()
  const start = (port?: number) => startServer(place.data, { ...DEMO, ...env }, port)
  const servers = (await Promise.all([start(), start()])) as [RunningServer, RunningServer]
  return {
    servers,
    data: place.data,
    address: which => servers[which % 2]!.address,
    async kill(which) {
      const { address, stop } = servers[which % 2]!
      await stop('SIGKILL')
      servers[which % 2] = await start(Number(new URL(address).port))
    },
    async stop() {
      await Promise.all(servers.map(server => server.stop()))
      await place.remove()
    },
  }
}

/** The same person at both processes by turns, with one session that both know. */
export async function signedInAtBoth(two: TwoServers, userName: string, times: number): Promise<Client[]> {
  const client = await Client.signedIn(two.address(0), userName)
  return Array.from({ length: times }, (_, at) => client.at(two.address(at)))
}

/** Does the same at once with each client. @returns how often each status was answered, as `200: 1, 409: 7`. */
export async function atOnce<T>(
  clients: readonly Client[],
  act: (client: Client, at: number) => Promise<Answer<T>>,
): Promise<{ statuses: Record<number, number>; answers: Answer<T>[] }> {
  const answers = await Promise.all(clients.map(act))
  const statuses: Record<number, number> = {}
  for (const { status } of answers) statuses[status] = (statuses[status] ?? 0) + 1
  return { statuses, answers }
}
