import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { closeDatabase, database } from '../database'
import {
  announceFirstAdministrator,
  makeFirstAdministrator,
  needsFirstAdministrator,
} from './first-administrator'
import { signIn, userKey } from './sign-in'

/**
 * The session module's own helpers, which Nuxt gives without an import. Not a hash: what counts here is who
 * calls it with what.
 */
const sealed = vi.fn(() => Promise.resolve({}))
beforeAll(() => {
  vi.stubGlobal('hashPassword', (password: string) => Promise.resolve(`hash of ${password}`))
  vi.stubGlobal('verifyPassword', (hash: string, password: string) =>
    Promise.resolve(hash === `hash of ${password}`),
  )
  vi.stubGlobal('replaceUserSession', sealed)
})
afterAll(async () => {
  vi.unstubAllGlobals()
  await closeDatabase()
})

const ASKED = {
  installation: ' Marrow Sound ',
  timeZone: 'Etc/GMT+2',
  userName: ' Wenna ',
  displayName: 'Wenna Pike',
  password: 'a long password',
}
const event = { context: {}, node: { req: { headers: {}, socket: { remoteAddress: '192.0.2.7' } } } } as never

describe('the first administrator', () => {
  let code = ''

  it('is asked for once, with a code that the server prints', async () => {
    const write = vi.spyOn(process.stdout, 'write').mockReturnValue(true)
    await announceFirstAdministrator()
    code = /code (\S{4}-\S{4}-\S{4})/.exec(String(write.mock.calls[0]?.[0]))![1]!
    write.mockRestore()
    expect(await needsFirstAdministrator()).toBe(true)
  })

  it('is not made with another code or in no time zone', async () => {
    await expect(makeFirstAdministrator({ ...ASKED, code: 'AAAA-AAAA-AAAA' }, 'here')).rejects.toMatchObject({
      code: 'wrong-code',
      problems: [{ at: 'body/code' }],
    })
    await expect(
      makeFirstAdministrator({ ...ASKED, code, timeZone: 'Moon/Crater' }, 'here'),
    ).rejects.toMatchObject({ code: 'time-zone' })
    expect(await needsFirstAdministrator()).toBe(true)
  })

  it('is made with it, in any case, and only once, also when two come at once', async () => {
    const both = await Promise.allSettled(
      ['one', 'two'].map(address =>
        makeFirstAdministrator({ ...ASKED, code: ` ${code.toLowerCase()} ` }, address),
      ),
    )
    expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
    const sql = await database()
    expect(await sql.query('SELECT user_name, user_key, role, branch FROM person')).toEqual([
      { user_name: 'Wenna', user_key: 'wenna', role: 'administrator', branch: null },
    ])
    expect(await sql.query('SELECT value FROM setting WHERE key = $1', ['installation'])).toEqual([
      { value: 'Marrow Sound' },
    ])
    await expect(makeFirstAdministrator({ ...ASKED, code }, 'here')).rejects.toMatchObject({
      code: 'setup-done',
    })
  })
})

describe('signing in', () => {
  it('seals the person and the epoch, nothing else', async () => {
    const id = await signIn(event, { userName: 'WENNA', password: ASKED.password })
    expect(sealed).toHaveBeenCalledWith(event, {
      secure: { person: id, epoch: 1, session: expect.any(String) as string },
    })
  })

  it('forgets wrong tries after a right one, and does not count a switched-off person in', async () => {
    const sql = await database()
    for (let attempt = 0; attempt < 3; attempt++)
      await expect(signIn(event, { userName: 'wenna', password: 'no' })).rejects.toMatchObject({
        status: 401,
      })
    await signIn(event, { userName: 'wenna', password: ASKED.password })
    for (let attempt = 0; attempt < 3; attempt++)
      await expect(signIn(event, { userName: 'wenna', password: 'no' })).rejects.toMatchObject({
        status: 401,
      })
    await signIn(event, { userName: 'wenna', password: ASKED.password })
    await sql.query('UPDATE person SET active = false')
    await expect(signIn(event, { userName: 'wenna', password: ASKED.password })).rejects.toMatchObject({
      code: 'wrong-password',
    })
  })

  it('folds user names: case, spaces, and forms of one letter', () => {
    expect(userKey(' Ione.TAMBER ')).toBe('ione.tamber')
    expect(userKey('\uFF29one')).toBe('ione')
  })
})
