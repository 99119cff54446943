import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import type { ExtractFileLine } from '#core/contract/extracts'
import type { JobLine, JobList } from '#core/contract/jobs'
import type { ReportFileView } from '#core/contract/report-files'
import { Client, type Answer } from '../../tests/support/client'
import { PASSWORD } from '../../tests/support/server'
import { measurement, median, report, type Measurement } from '../measure'
import { cellsAs } from './extracts'
import { fillWorkbook } from './files'
import { NEWEST } from './questions'
import { start, stop } from './start'

/**
 * Work that takes long, of a running server with a province: how long each takes, and how much longer *Today* of
 * the region takes meanwhile. What is taken in is taken back.
 */
const UNIT = 'west_reach'
const data = process.env.DATABASE_URL || process.env.LANTERN_DATA!
/** What is asked: seconds, rows a second, and how many times as long others may wait. */
const ASKED = { preview: 5, apply: 15, rows: 100_000, backup: 120, meanwhile: 2 }
/** `--only file`, `--only extract` or `--only backup` does one of them. */
const only = process.argv.includes('--only') ? process.argv[process.argv.indexOf('--only') + 1] : undefined
const isAsked = (work: 'file' | 'extract' | 'backup') => only === undefined || work === only
/** How often *Today* is asked for while nothing else happens. */
const ALONE = 15

const found: Measurement[] = []
const backups = mkdtempSync(join(tmpdir(), 'lantern-bench-backups-'))
const server = await start(data, { LANTERN_BACKUPS: backups })

const must = <T>({ status, body, text }: Answer<T>): T => {
  if (status >= 300) throw new Error(`${status} ${text.slice(0, 300)}`)
  return body
}

/** An officer of the whole region: nobody else may take a file of it in. Stays, and comes back the next time. */
async function officerOf(admin: Client): Promise<Client> {
  const userName = 'bench.officer'
  const person = { userName, displayName: 'Bench', role: 'officer', branch: UNIT, ownOnly: false }
  const made = await admin.post<{ code: string }>('/api/people', person)
  if (made.status < 300)
    must(
      await new Client(server.address).post('/api/session/code', {
        ...{ userName, code: made.body.code, password: PASSWORD },
      }),
    )
  return Client.signedIn(server.address, userName)
}

try {
  const admin = await Client.signedIn(server.address, 'admin')
  const other = await Client.signedIn(server.address, 'admin')
  const today = async () => {
    const before = performance.now()
    must(await other.get(`/api/today?unit=${UNIT}`))
    return performance.now() - before
  }
  await today()
  const alone: number[] = []
  for (let turn = 0; turn < ALONE; turn++) alone.push(await today())

  /** Does a work while somebody looks at *Today* again and again. @returns seconds */
  async function beside(name: string, work: () => Promise<unknown>): Promise<number> {
    let isOver = false
    const times: number[] = []
    const looking = (async () => {
      while (!isOver) {
        times.push(await today())
        await setTimeout(100)
      }
    })()
    const before = performance.now()
    await work()
    const seconds = (performance.now() - before) / 1000
    isOver = true
    await looking
    found.push(
      measurement(`Today during ${name}`, median(times), median(alone), 'alone', 'ms', ASKED.meanwhile),
    )
    return seconds
  }
  /**
   * Asks again until something is so: nearly as seldom as the page does, every one and a half seconds, because each
   * time is a request of somebody, too.
   */
  async function until<T>(ask: () => Promise<T>, isSo: (answer: T) => boolean): Promise<T> {
    for (;;) {
      const answer = await ask()
      if (isSo(answer)) return answer
      await setTimeout(1000)
    }
  }
  const second = (name: string, seconds: number, most: number) =>
    found.push(measurement(name, seconds, most, 'what is asked', 's', 1))

  /** A file of the region, looked at, taken in and taken back. */
  async function takeFileIn() {
    const officer = await officerOf(admin)
    const template = await officer.bytes(
      `/api/rounds/${NEWEST}/template?format=xlsx&language=en&unit=${UNIT}`,
    )
    const base64 = (await fillWorkbook(template)).toString('base64')
    let view: ReportFileView | undefined
    second(
      'a file of the region: looked at',
      await beside('the look at a file', async () => {
        const [dataset] = NEWEST.split('~')
        const body = { dataset, round: NEWEST, name: 'bench.xlsx', base64, language: 'en' }
        view = must(await officer.post<ReportFileView>('/api/report-files', body))
      }),
      ASKED.preview,
    )
    const { id, counts } = view!.line
    console.log(`the file has ${counts.reports} reports and changes ${counts.changes} values`)
    const file = async () => must(await officer.get<ReportFileView>(`/api/report-files/${id}`)).line.state
    second(
      'a file of the region: taken in',
      await beside('the taking in of a file', async () => {
        must(await officer.post(`/api/report-files/${id}/apply`, { why: 'A trial of its speed' }))
        await until(file, state => state === 'applied')
      }),
      ASKED.apply,
    )
    second(
      'a file of the region: taken back',
      await beside('the taking back of a file', async () => {
        must(await officer.post(`/api/report-files/${id}/undo`, {}))
        await until(file, state => state === 'undone')
      }),
      ASKED.apply,
    )
  }
  /** An extract of each format. */
  async function takeOutExtracts() {
    for (const [format, from, rows] of [
      ['csv', '2026-02-01', ASKED.rows],
      ['xlsx', '2026-10-01', ASKED.rows / 10],
    ] as const) {
      let line: ExtractFileLine | undefined
      const seconds = await beside(`an extract as ${format}`, async () => {
        const extracts = [{ name: 'bench', definition: cellsAs(format, from) }]
        const asked = must(await admin.post<ExtractFileLine>('/api/extract-files', { extracts }))
        line = await until(
          async () => must(await admin.get<ExtractFileLine>(`/api/extract-files/${asked.id}`)),
          ({ state }) => state !== 'waiting',
        )
      })
      console.log(
        `${format}: ${line!.rows} rows, ${(line!.rows / seconds).toFixed(0)} a second; ${line!.state}`,
      )
      second(`an extract of ${line!.rows} rows as ${format}`, seconds, line!.rows / rows)
    }
  }
  /** A backup. */
  async function backUp() {
    second(
      'a backup',
      await beside('a backup', async () => {
        const job = must(await admin.post<JobLine>('/api/jobs', { kind: 'backup' }))
        const ended = await until(
          async () =>
            must(await admin.get<JobList>('/api/jobs?filter=asked')).lines.find(one => one.id === job.id)!,
          ({ state }) => state !== 'waiting' && state !== 'running',
        )
        console.log(`the backup is ${ended.state}: ${JSON.stringify(ended.result)}`)
      }),
      ASKED.backup,
    )
  }
  if (isAsked('file')) await takeFileIn()
  if (isAsked('extract')) await takeOutExtracts()
  if (isAsked('backup')) await backUp()
} finally {
  await stop(server)
  rmSync(backups, { recursive: true, force: true })
}
report(`office-long-${process.env.DATABASE_URL ? 'server' : 'embedded'}`, found)
