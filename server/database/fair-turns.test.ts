import { AsyncLocalStorage } from 'node:async_hooks'
import { expect, test } from 'vitest'
import { fairTurns } from './fair-turns'

const request = new AsyncLocalStorage<object>()

/** What was done, in its order. Each piece ends when the event loop came round. */
function noted() {
  const done: string[] = []
  const inTurn = fairTurns(() => request.getStore())
  const ask = (name: string) =>
    inTurn(async () => {
      done.push(`${name} begins`)
      await new Promise(setImmediate)
      done.push(name)
      return name
    })
  const ended = () => done.filter(said => !said.endsWith('begins'))
  return { done, ended, inTurn, ask }
}

test('one piece of work follows the other', async () => {
  const { done, ask } = noted()
  await Promise.all([ask('a'), ask('b')])
  expect(done).toEqual(['a begins', 'a', 'b begins', 'b'])
})

test('a request waits for one piece of another, and not for all', async () => {
  const { ended, ask } = noted()
  const page = request.run({}, () => Promise.all(['page 1', 'page 2', 'page 3'].map(ask)))
  const health = request.run({}, () => ask('health'))
  expect(await health).toBe('health')
  expect(ended()).toEqual(['page 1', 'health'])
  expect(await page).toEqual(['page 1', 'page 2', 'page 3'])
})

test('whoever comes while others wait does not pass them', async () => {
  const { ended, ask, inTurn } = noted()
  const [first, second, third] = [{}, {}, {}]
  const late: Promise<string>[] = []
  await Promise.all([
    request.run(first, () => Promise.all([ask('first 1'), ask('first 2')])),
    request.run(second, async () => {
      await inTurn(async () => void late.push(request.run(third, () => ask('third 1'))))
      await ask('second 2')
    }),
  ])
  await Promise.all(late)
  expect(ended()).toEqual(['first 1', 'first 2', 'third 1', 'second 2'])
})

test('work of no request is in line as a request of its own', async () => {
  const { ended, ask } = noted()
  await Promise.all([
    request.run({}, () => Promise.all([ask('page 1'), ask('page 2')])),
    ask('job 1'),
    ask('job 2'),
  ])
  expect(ended()).toEqual(['page 1', 'job 1', 'job 2', 'page 2'])
})

test('what fails says so to whoever asked, and the next one gets its turn', async () => {
  const { inTurn, ask } = noted()
  const failing = inTurn(() => Promise.reject(new Error('no such table')))
  await expect(Promise.all([failing, ask('b')])).rejects.toThrow('no such table')
  expect(await ask('c')).toBe('c')
})
