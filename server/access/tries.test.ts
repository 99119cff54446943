import { describe, expect, it, vi } from 'vitest'
import { countTry, forgetTries, inTurn, limitTries } from './tries'

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

  it('never last longer than a quarter of an hour, also when the clock is set back by a day', async () => {
    for (let attempt = 0; attempt < 40; attempt++) {
      try {
        countTry('name d|x')
      } catch (error) {
        expect(
          (error as { problems: { values: { seconds: number } }[] }).problems[0]!.values.seconds,
        ).toBeLessThanOrEqual(900)
      }
    }
    vi.useFakeTimers({ toFake: ['Date'], now: Date.now() - 86_400_000 })
    const own = performance.now()
    vi.spyOn(performance, 'now').mockReturnValue(own + 901_000)
    expect(() => countTry('name d|x')).not.toThrow()
    vi.restoreAllMocks()
    vi.useRealTimers()
    forgetTries('name d|x')
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
