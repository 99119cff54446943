import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NGINX } from '../../scripts/nginx.mjs'
import { Client } from '../support/client'
import { freePort } from '../support/server'
import { startTwo, type TwoServers } from '../support/two-servers'

const SHIPPED = join(import.meta.dirname, '../../docs/nginx/lantern.conf')
let two: TwoServers
let nginx: ChildProcess
let folder: string
let address: string

/** A certificate that nobody signed but itself. */
function certify(): void {
  const { status, stderr } = spawnSync(
    'openssl',
    [
      'req',
      '-x509',
      '-newkey',
      'rsa:2048',
      '-nodes',
      '-subj',
      '/CN=localhost',
      '-keyout',
      join(folder, 'lantern.key'),
      '-out',
      join(folder, 'lantern.crt'),
    ],
    { encoding: 'utf8' },
  )
  if (status !== 0) throw new Error(stderr)
}

/**
 * Starts nginx with the configuration as it ships, with the addresses, the certificate and the port of this test.
 *
 * @throws what nginx wrote into its log, if it ends or does not answer within a minute.
 */
async function startNginx(): Promise<void> {
  const port = await freePort()
  address = `https://localhost:${port}`
  const log = join(folder, 'error.log')
  const ours = new Map([
    ['127.0.0.1:4311', new URL(two.address(0)).host],
    ['127.0.0.1:4312', new URL(two.address(1)).host],
    ['8443', String(port)],
    ['/etc/nginx', folder],
  ])
  // In one pass: a port that was put in may begin with one that is still to be replaced (43120, and 4312).
  const conf = readFileSync(SHIPPED, 'utf8').replaceAll(/127\.0\.0\.1:431[12]|8443|\/etc\/nginx/g, shipped =>
    ours.get(shipped)!,
  )
  const places = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    kind => `${kind}_temp_path ${folder}/${kind};`,
  )
  writeFileSync(
    join(folder, 'nginx.conf'),
    `daemon off; pid ${folder}/pid; error_log ${log}; events {} http { access_log off; ${places.join(' ')}\n${conf}\n}`,
  )
  nginx = spawn(NGINX, ['-c', join(folder, 'nginx.conf'), '-e', log], { stdio: 'inherit' })
  const end = Date.now() + 60_000
  for (;;) {
    const answer = await fetch(`${address}/api/health`).catch((cause: unknown) => cause)
    if (answer instanceof Response && answer.status === 200) return
    const hasEnded = nginx.exitCode !== null
    if (hasEnded || Date.now() > end) {
      nginx.kill('SIGKILL')
      const said = existsSync(log) ? readFileSync(log, 'utf8') : ''
      throw new Error(`nginx ${hasEnded ? 'ended' : 'does not answer'} at ${address}: ${said}`, {
        cause: answer,
      })
    }
    await setTimeout(100)
  }
}

beforeAll(async () => {
  two = await startTwo({ LANTERN_TRUST_PROXY: '1' })
  folder = mkdtempSync(join(tmpdir(), 'lantern-nginx-'))
  certify()
  process.env.NODE_TLS_REJECT_UNAUTHORIZED = '0'
  // Between finding a free port and listening at it, another of the tests that run beside this may take it.
  await startNginx().catch(startNginx)
})
afterAll(async () => {
  delete process.env.NODE_TLS_REJECT_UNAUTHORIZED
  nginx?.kill('SIGQUIT')
  await two?.stop()
  if (folder) rmSync(folder, { recursive: true, force: true })
})

describe('two processes behind nginx, as its shipped configuration sets it up', () => {
  it('are one installation: a session, a page, a change', async () => {
    const officer = await Client.signedIn(address, 'officer.ashmere')
    for (let time = 0; time < 4; time++) expect((await officer.get('/api/today')).status).toBe(200)
    const discrepancies = await officer.get<{ lines: { id: string; state: string }[] }>('/api/discrepancies')
    const open = discrepancies.body.lines.find(({ state }) => state === 'open')!
    expect((await officer.post(`/api/discrepancies/${open.id}/ask`, { text: 'Is it so?' })).status).toBe(200)
    const page = await fetch(`${address}/gather`)
    expect(page.headers.get('content-security-policy')).toContain("default-src 'self'")
    expect(await page.text()).toContain('<html')
  })

  it('refuse a change from a page of another address', async () => {
    const officer = await Client.signedIn(address, 'officer.ashmere')
    const { status, body } = await officer.post(
      '/api/jobs',
      { kind: 'tidy' },
      { origin: 'https://elsewhere.example' },
    )
    expect({ status, code: body.code }).toEqual({ status: 403, code: 'origin' })
  })

  it('count wrong tries by the address of the person, not of the proxy, and believe nobody’s own header', async () => {
    const wrong = (userName: string) =>
      new Client(address, { 'x-forwarded-for': `192.0.2.${Math.random()}` }).post('/api/session', {
        userName,
        password: 'wrong',
      })
    const statuses = []
    for (let time = 0; time < 5; time++) statuses.push((await wrong('reader')).status)
    expect(statuses).toEqual([401, 401, 401, 401, 429])
  })

  it('are passed over while one is killed: who reads gets an answer each time', async () => {
    const officer = await Client.signedIn(address, 'officer.ashmere')
    let reads = 0
    const statuses = new Set<number>()
    let isOver = false
    const reading = (async () => {
      while (!isOver) {
        statuses.add((await officer.get('/api/rounds')).status)
        reads++
      }
    })()
    await setTimeout(300)
    await two.kill(0)
    await setTimeout(300)
    isOver = true
    await reading
    expect(reads).toBeGreaterThan(10)
    expect([...statuses]).toEqual([200])
  })
})
