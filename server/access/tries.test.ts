import '../../tests/support/use-memory'
import { afterAll, describe, expect, it } from 'vitest'
import { closeDatabase, database } from '../database'
import { countTry, forgetTries, inTurn, limitTries } from './tries'

afterAll(closeDatabase)

const wrong = () => Promise.reject(new Error('wrong'))
const right = () => Promise.resolve('in')
const codeOf = (tried: Promise<unknown>) =>
  tried.then(
    () => 'in',
    (error: { code?: string; message: string }) => error.code ?? error.message,
  )

describe('nothing lost, 12: limits on tries', () => {
  it('cost a wait after four wrong ones in a row, by name and place together', async () => {
    const one = { what: 'name a', address: '192.0.2.1', known: true }
    const codes = []
    for (let attempt = 0; attempt < 5; attempt++) codes.push(await codeOf(limitTries(one, wrong)))
    expect(codes).toEqual(['wrong', 'wrong', 'wrong', 'wrong', 'too-many-tries'])
    // The person who comes from elsewhere, or from a device of their own, is not locked by that.
    expect(await codeOf(limitTries({ ...one, address: '192.0.2.2' }, right))).toBe('in')
    expect(await codeOf(limitTries({ ...one, device: 'own' }, right))).toBe('in')
  })

  it('do not lock a known place, whatever others try at the name from many places', async () => {
    for (let attempt = 0; attempt < 40; attempt++)
      await codeOf(limitTries({ what: 'name b', address: `198.51.100.${attempt}` }, wrong))
    expect(await codeOf(limitTries({ what: 'name b', address: '203.0.113.1' }, right))).toBe('too-many-tries')
    expect(await codeOf(limitTries({ what: 'name b', address: '203.0.113.1', known: true }, right))).toBe(
      'in',
    )
  })

  it('end many made-up names from one address', async () => {
    const codes = await Promise.all(
      Array.from({ length: 400 }, (_, at) =>
        codeOf(limitTries({ what: `name made up ${at}`, address: '198.51.100.200' }, wrong)),
      ),
    )
    expect(codes.filter(code => code === 'wrong')).toHaveLength(60)
    expect(await codeOf(limitTries({ what: 'name c', address: '198.51.100.201' }, right))).toBe('in')
  })

  it('never last longer than a quarter of an hour, also when the clock of the database is set back', async () => {
    const sql = await database()
    const left: number[] = []
    for (let attempt = 0; attempt < 40; attempt++) {
      await countTry('name d|x')
      const [row] = await sql.query<{ left: number }>(
        `UPDATE wrong_try SET blocked_until = clock_timestamp() WHERE key = 'name d|x'
         RETURNING (SELECT extract(epoch FROM blocked_until - clock_timestamp())::float8 FROM wrong_try WHERE key = 'name d|x') AS left`,
      )
      left.push(row!.left)
    }
    expect(Math.max(...left)).toBeGreaterThan(800)
    expect(Math.max(...left)).toBeLessThanOrEqual(900)
    // As if the clock had been set back by a day after the last wrong try.
    await sql.query(`UPDATE wrong_try SET blocked_until = clock_timestamp() + interval '1 day'`)
    await countTry('name d|x')
    await expect(countTry('name d|x')).rejects.toMatchObject({ code: 'too-many-tries' })
    await forgetTries('name d|x')
    await countTry('name d|x')
  })

  it('let two passwords be compared at once, and not four hundred wait', async () => {
    let most = 0
    let now = 0
    const hashing = async () => {
      most = Math.max(most, ++now)
      await new Promise(resolve => {
        setTimeout(resolve, 2)
      })
      now--
    }
    const codes = await Promise.all(Array.from({ length: 400 }, () => codeOf(inTurn(hashing))))
    expect(most).toBeLessThanOrEqual(3)
    expect(codes.filter(code => code === 'in').length).toBeGreaterThanOrEqual(62)
    expect(codes.filter(code => code === 'too-many-tries').length).toBeGreaterThan(300)
  })
})
