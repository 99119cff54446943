import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { OFFICE, Visitor } from '../support/browser'
import { Client, OCTOBER } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

const ROWS = '.p-datatable-selectable-row:not(.zone)'
let server: RunningServer
let reader: Visitor

beforeAll(async () => {
  server = await startDemo()
  reader = await Visitor.arrive(server.address, OFFICE)
  await reader.signIn('reader')
})
afterAll(async () => {
  await reader?.leave()
  await server?.stop()
})

const clean = async () => expect(await reader.faults()).toEqual([])
const names = () =>
  reader.run<string[]>(
    `return [...document.querySelectorAll('${ROWS} td:first-child')].map(one => one.innerText)`,
  )

const chooseDistrict = (name: string) => reader.pick('strip-district', name)

describe('a region at once', () => {
  it('has a board of all facilities, of which only those in sight are drawn', async () => {
    const { body } = await (
      await Client.signedIn(server.address, 'reader')
    ).get<{ rows: { unit: { name: string } }[] }>(`/api/rounds/${OCTOBER}/board`)
    expect(body.rows.length).toBeGreaterThan(60)
    await reader.open(`/gather/${OCTOBER}`)
    await reader.see(ROWS)
    await chooseDistrict('All districts')
    await reader.reads(`of ${body.rows.length}`)
    await reader.until(async () => (await names()).length < body.rows.length, 'only some rows to be drawn')
    await shot(reader, 'board-region')
    await clean()
    const seen = new Set<string>()
    const last = body.rows.at(-1)!.unit.name
    for (let step = 0; !seen.has(last) && step < 40; step++) {
      for (const name of await names()) seen.add(name)
      await reader.run(
        `const one = document.querySelector('.p-virtualscroller'); one.scrollTop += 250; return 1`,
      )
      await new Promise(resolve => setTimeout(resolve, 150))
    }
    // Whoever scrolls to the end has seen every facility.
    expect(body.rows.map(({ unit }) => unit.name).filter(name => !seen.has(name))).toEqual([])
  })

  it('has its discrepancies, and no district report', async () => {
    const inOne = async () => Number(/(\d+) to resolve/.exec(await reader.reads(/\d+ to resolve/))![1])
    await reader.click('Resolve', 'nav a')
    const all = await inOne()
    await chooseDistrict('Ashmere')
    await reader.until(async () => (await inOne()) < all, 'those of one district')
    await clean()
    await reader.click('Report', 'nav a')
    await reader.reads('Ashmere')
    await chooseDistrict('All districts')
    await reader.reads('A district report belongs to one district')
    await clean()
  })

  it('has its own Today, and each district another one', async () => {
    await reader.open('/')
    // A page that is loaded again stays with what was chosen.
    await reader.reads(/Varrow Coast · Due/)
    await chooseDistrict('Ashmere')
    await reader.reads(/Ashmere · Due/)
    await clean()
  })
})
