import { it } from 'vitest'
import { PHONE, Visitor } from '../support/browser'
import { OCTOBER } from '../support/client'
import { deskOf } from '../support/desk'
import { DEMO, startServer } from '../support/server'
it('looks', async () => {
  const server = await startServer('memory:', DEMO)
  const clerk = await deskOf(server.address, 'lowgate', 'en', await Visitor.arrive(server.address, PHONE))
  await clerk.reads('Due now')
  await new Promise(r => setTimeout(r, 0))
  await clerk.picture('/tmp/shots/due.png')
  await clerk.open(`/desk/report/${OCTOBER}?section=maternity`)
  await new Promise(r => setTimeout(r, 4000))
  await new Promise(r => setTimeout(r, 0))
  await clerk.picture('/tmp/shots/report.png')
  console.log(await clerk.run('return document.body.innerText'), await clerk.run('return [...document.querySelectorAll("input[data-cell]")].map(i => i.dataset.cell).join()'), await clerk.consoleErrors())
  await clerk.leave(); await server.stop()
})
