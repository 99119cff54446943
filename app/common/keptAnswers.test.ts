import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { askedOrKept, forgetAnswers, keepAnswer, keptAnswer } from './keptAnswers'
import { ApiProblem } from './useApi'

const unreachable = () => Promise.reject(new ApiProblem(0, 'unreachable', ''))

/** A storage as a browser has it, as far as it is used: its keys are its own properties. */
function storage(room = Infinity) {
  const texts: Record<string, string> = {}
  const methods = {
    getItem: (key: string) => texts[key] ?? null,
    setItem: (key: string, text: string) => {
      if (text.length > room) throw new DOMException('full', 'QuotaExceededError')
      texts[key] = text
    },
    removeItem: (key: string) => delete texts[key],
  }
  return new Proxy(texts, { get: (_, name: keyof typeof methods) => methods[name] })
}

beforeEach(() => vi.stubGlobal('localStorage', storage()))
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

describe('what the district answered', () => {
  it('is there again without a network, for a week', async () => {
    vi.useFakeTimers({ now: Date.parse('2026-11-05T12:00:00Z'), toFake: ['Date'] })
    expect(await askedOrKept('sheet', () => Promise.resolve({ rows: 3 }))).toEqual({ rows: 3 })
    expect(await askedOrKept('sheet', unreachable)).toEqual({ rows: 3 })
    vi.setSystemTime(Date.parse('2026-11-12T12:00:01Z'))
    await expect(askedOrKept('sheet', unreachable)).rejects.toMatchObject({ code: 'unreachable' })
  })

  it('is not taken where the district says no', async () => {
    keepAnswer('sheet', { rows: 3 })
    await expect(
      askedOrKept('sheet', () => Promise.reject(new ApiProblem(403, 'outside-branch', ''))),
    ).rejects.toMatchObject({ status: 403 })
  })

  it('is of one place, and forgotten with all others', () => {
    keepAnswer('one', 1)
    keepAnswer('other', 2)
    localStorage.setItem('lantern-language', 'fr')
    expect([keptAnswer('one'), keptAnswer('other'), keptAnswer('third')]).toEqual([1, 2, null])
    forgetAnswers()
    expect([keptAnswer('one'), localStorage.getItem('lantern-language')]).toEqual([null, 'fr'])
  })

  it('that finds no room is told, and the page goes on', async () => {
    const told = vi.spyOn(console, 'warn').mockReturnValue()
    vi.stubGlobal('localStorage', storage(10))
    expect(await askedOrKept('sheet', () => Promise.resolve(7))).toBe(7)
    expect(told).toHaveBeenCalledOnce()
  })
})
