import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Client } from '../support/client'
import { demoPlace, startServer, type Place, type RunningServer } from '../support/server'

let place: Place
let servers: RunningServer[] = []
beforeAll(async () => {
  place = await demoPlace('template0')
})
afterAll(async () => {
  await Promise.all(servers.map(server => server.stop()))
  await place?.remove()
})

const SETUP = {
  installation: 'A trial',
  timeZone: 'UTC',
  userName: 'first',
  displayName: 'The first',
  password: 'a long password',
}

describe('three processes that start on an empty database at once', () => {
  it('make its tables once, and print one code for the first administrator', async () => {
    servers = await Promise.all([1, 2, 3].map(() => startServer(place.data, { LANTERN_BACKUP_HOURS: '0' })))
    const codes = servers.map(server => /one-time code (\S+)/.exec(server.output())?.[1])
    expect(new Set(codes).size).toBe(1)
    const answers = await Promise.all(
      servers.map(({ address }, at) =>
        new Client(address).post('/api/setup', { ...SETUP, userName: `first${at}`, code: codes[at] }),
      ),
    )
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409])
  })

  it('know each other’s sessions', async () => {
    const client = new Client(servers[0]!.address)
    const signIn = await Promise.all(
      [0, 1, 2].map(at => client.post('/api/session', { userName: `first${at}`, password: SETUP.password })),
    )
    expect(signIn.map(({ status }) => status).sort()).toEqual([200, 401, 401])
    const other = client.at(servers[1]!.address)
    expect((await other.get('/api/session')).status).toBe(200)
  })
})

describe('a start', () => {
  const start = (data: string) => startServer(data, { LANTERN_BACKUP_HOURS: '0' })
  const named = (name: string) => place.data.replace(/[^/]*$/, name)

  it('on an address that is none, or without a database, says what to do', async () => {
    await expect(start('postgres://')).rejects.toThrow(/is no address of a PostgreSQL server/)
    await expect(start(named('nobody_made_this'))).rejects.toThrow(/has no database of the name/)
  })

  it('on a database in another order of letters, or without rights, says what to do', async () => {
    const name = `odd_${randomUUID().slice(0, 8)}`
    const client = new pg.Client({ connectionString: named('postgres') })
    await client.connect()
    await client.query(`CREATE DATABASE ${name} TEMPLATE template0 ENCODING 'SQL_ASCII' LOCALE 'C'`)
    await client.query(`CREATE ROLE ${name} LOGIN`)
    try {
      await expect(start(named(name))).rejects.toThrow(/--locale=C.UTF-8/)
      await expect(start(place.data.replace('lantern@', `${name}@`))).rejects.toThrow(/may not make tables/)
    } finally {
      await client.query(`DROP DATABASE ${name} WITH (FORCE)`)
      await client.query(`DROP ROLE ${name}`)
      await client.end()
    }
  })

  it('on the database of a newer installation says so', async () => {
    const client = new pg.Client({ connectionString: place.data })
    await client.connect()
    await client.query("INSERT INTO migration (number, name, checksum) VALUES (9999, 'later', 'x')")
    try {
      await expect(start(place.data)).rejects.toThrow(/newer version of Eastward Lantern/)
    } finally {
      await client.query('DELETE FROM migration WHERE number = 9999')
      await client.end()
    }
  })
})
