import { rmSync } from 'node:fs'
import { v7 as uuid } from 'uuid'
import type { CardMade } from '#core/contract/devices'
import { Client } from '../../tests/support/client'
import { CARD_SETTINGS } from '../../tests/support/samples'
import { DEMO, demoFolder, startServer } from '../../tests/support/server'
import { TestDevice } from '../../tests/support/test-device'
import { allPeople } from '../all-people'
import { measurement, percentile, type Measurement } from '../measure'
import { memoryOf } from '../process-memory'
import { bareRows } from './bare-rows'
import { publishForm } from './form'

const DEVICES = 50
const CELLS = 110
const ENTRIES = 89
/** Changes in one request: all that a device has, as it sends them when the line is good. */
const PIECE = 200
const MEGABYTES = 600
const MADE = '2026-11-09T10:00:00Z'

/**
 * Fifty devices, each two hundred changes at once, over loopback: values of reports and filled case forms.
 */
export async function manyDevices(): Promise<Measurement[]> {
  const folder = demoFolder()
  const server = await startServer(folder, DEMO)
  try {
    const admin = await Client.signedIn(server.address, 'admin')
    const {
      body: { units },
    } = await admin.get<{ units: { code: string; level: number; open: boolean }[] }>('/api/units')
    const people = await allPeople(admin)
    const open = new Set(units.filter(unit => unit.level === 4 && unit.open).map(({ code }) => code))
    const clerks = people
      .filter(person => person.role === 'clerk' && open.has(person.branch?.code ?? ''))
      .filter((person, at, all) => all.findIndex(other => other.branch!.code === person.branch!.code) === at)
      .slice(0, DEVICES)
    const { cells, round } = await publishForm(admin, CELLS)
    const devices: TestDevice[] = []
    for (const { userName, branch } of clerks) {
      const unit = branch!.code
      const { body } = await admin.post<CardMade>('/api/pairing-cards', {
        name: 'Bench',
        unit,
        uses: 1,
        days: 1,
        settings: CARD_SETTINGS,
      })
      const device = await TestDevice.pair(server.address, userName, body.code, PIECE)
      for (const cell of cells)
        device.add({
          kind: 'cell',
          id: uuid(),
          madeAt: MADE,
          round,
          unit,
          cell,
          base: 0,
          content: { kind: 'value', value: 3 },
        })
      device.add({ kind: 'send', id: uuid(), madeAt: MADE, round, unit, explanations: {} })
      for (let entry = 0; entry < ENTRIES; entry++) {
        device.add({
          kind: 'entry',
          id: uuid(),
          madeAt: MADE,
          case: uuid(),
          register: 'measles_contacts',
          edition: 1,
          form: 'contact',
          unit,
          answers: {
            contact_name: { kind: 'value', value: `Made up ${entry}` },
            met_on: { kind: 'value', value: '2026-10-20' },
          },
        })
      }
      devices.push(device)
    }
    const all = devices.reduce((sum, device) => sum + device.made.length, 0)
    const begun = performance.now()
    await Promise.all(devices.map(device => device.sendAll()))
    const seconds = (performance.now() - begun) / 1000
    const memory = memoryOf(server.child.pid!)
    const outcomes = devices.flatMap(device => [...device.outcomes.values()])
    const kinds = [...new Set(outcomes.map(({ outcome }) => outcome))]
      .map(kind => `${outcomes.filter(({ outcome }) => outcome === kind).length} ${kind}`)
      .join(', ')
    const missing =
      all - outcomes.filter(({ outcome }) => outcome === 'received' || outcome === 'alreadyHad').length
    console.log(
      `${devices.length} devices, ${all} changes in ${seconds.toFixed(2)} s: ${(all / seconds).toFixed(0)} a second; ${kinds}`,
    )
    const times = devices.flatMap(device => device.milliseconds)
    await server.stop()
    const bare = await bareRows(folder)
    const parts = [...bare.byTable].map(([table, took]) => `${table} ${took.toFixed(0)} ms`)
    console.log(
      `the same by bare SQL, ${bare.rows} rows: ${(bare.took / 1000).toFixed(2)} s; ${parts.join(', ')}`,
    )
    return [
      measurement(`${all} changes sent`, seconds, bare.took / 1000, 'bare SQL', 's', 3),
      measurement(
        `99th percentile of ${times.length} requests of ${PIECE}`,
        percentile(times, 0.99) / 1000,
        seconds,
        'all of them together',
        's',
        1,
      ),
      measurement('memory of the server', memory, MEGABYTES, 'what is asked', 'MB', 1),
      measurement('changes lost', missing, all, 'changes made', '', 0),
    ]
  } finally {
    await server.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}
