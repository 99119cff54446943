import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Access } from '../access/access'
import { closeDatabase, type Database } from '../database'
import { dueList } from '../overview/due'
import { reportFile } from '../reports/file'
import { fillReport } from '../../tests/support/facility'
import { makeInstallation, NOW, OCTOBER, personOf } from '../../tests/support/installation'
import { changePerson, listPeople, makePerson, renewCode } from './manage'
import { hashCode, newCode, sameCode, tidyCode } from './one-time-code'
import { signIn, signInByCode } from './sign-in'

const admin = personOf('administrator', null)
const ofNorth = { ...personOf('administrator', 'north'), id: personOf('officer', null).id }
const event = { context: {}, node: { req: { headers: {}, socket: { remoteAddress: '192.0.2.7' } } } } as never
const sealed = vi.fn(() => Promise.resolve({}))
let sql: Database

beforeAll(async () => {
  vi.stubGlobal('hashPassword', (password: string) => Promise.resolve(`hash of ${password}`))
  vi.stubGlobal('verifyPassword', (hash: string, password: string) =>
    Promise.resolve(hash === `hash of ${password}`),
  )
  vi.stubGlobal('replaceUserSession', sealed)
  sql = await makeInstallation()
})
afterAll(async () => {
  vi.unstubAllGlobals()
  await closeDatabase()
})

const NEW = {
  userName: 'Nell.Fyne',
  displayName: 'Nell Fyne',
  role: 'clerk' as const,
  branch: 'elm',
  ownOnly: false,
}
const PASSWORD = 'a long password'

/** Nothing is taken away, and everything is shared. */
const ALL = { without: [], sharing: null }

describe('a one-time code', () => {
  it('is never the same, has no letters that are mistaken, and is read in any way of writing', () => {
    const codes = new Set(Array.from({ length: 200 }, newCode))
    expect(codes.size).toBe(200)
    for (const code of codes) expect(code).toMatch(/^[A-HJKMNP-Z2-9]{4}(-[A-HJKMNP-Z2-9]{4}){2}$/)
    expect(tidyCode(' abcd efgh–2345 ')).toBe('ABCDEFGH2345')
    expect([
      sameCode('abcd-efgh-2345', hashCode('ABCDEFGH2345')),
      sameCode('abcd-efgh-2346', hashCode('ABCDEFGH2345')),
      sameCode('', hashCode('ABCD')),
    ]).toEqual([true, false, false])
  })
})

describe('a new person', () => {
  let code = ''

  it('comes in by the code that is shown once, chooses a password, and the code is gone', async () => {
    const made = await makePerson(admin, NEW)
    code = made.code
    expect(
      await sql.query('SELECT password_hash, code_hash = $1 AS kept FROM person WHERE id = $2', [
        made.code,
        made.id,
      ]),
    ).toEqual([{ password_hash: null, kept: false }])
    expect((await listPeople(admin, {})).lines.find(({ id }) => id === made.id)).toMatchObject({
      cameIn: false,
      codeUntil: made.until,
      branch: { code: 'elm' },
    })
    await expect(signIn(event, { userName: 'nell.fyne', password: '' })).rejects.toMatchObject({
      code: 'wrong-password',
    })
    await expect(
      signInByCode(event, { userName: 'nell.fyne', code: 'AAAA-AAAA-AAAA', password: PASSWORD }),
    ).rejects.toMatchObject({ status: 401, code: 'wrong-one-time-code' })
    expect(
      await signInByCode(event, { userName: ' NELL.fyne', code: code.toLowerCase(), password: PASSWORD }),
    ).toBe(made.id)
    await expect(
      signInByCode(event, { userName: 'nell.fyne', code, password: PASSWORD }),
    ).rejects.toMatchObject({ code: 'wrong-one-time-code' })
    expect(await signIn(event, { userName: 'nell.fyne', password: PASSWORD })).toBe(made.id)
  })

  it('is refused with a name that is taken in any case, as a clerk of nowhere, outside the branch, or nowhere that is there', async () => {
    await expect(makePerson(admin, { ...NEW, userName: 'NELL.FYNE' })).rejects.toMatchObject({
      code: 'user-name-taken',
      problems: [{ at: 'body/userName' }],
    })
    await expect(makePerson(admin, { ...NEW, userName: 'other', branch: null })).rejects.toMatchObject({
      code: 'clerk-nowhere',
    })
    await expect(
      makePerson(admin, { ...NEW, userName: 'other', role: 'reader', ownOnly: true }),
    ).rejects.toMatchObject({ code: 'own-only-clerks' })
    await expect(makePerson(admin, { ...NEW, userName: 'other', branch: 'atlantis' })).rejects.toMatchObject({
      code: 'no-unit',
    })
    await expect(makePerson(ofNorth, { ...NEW, userName: 'other', branch: 'yew' })).rejects.toMatchObject({
      code: 'outside-branch',
    })
    await expect(
      makePerson(ofNorth, { ...NEW, userName: 'other', role: 'reader', branch: null }),
    ).rejects.toMatchObject({ code: 'outside-branch' })
  })

  it('who lost the password gets another code; the old password holds until it is used, the code for a week', async () => {
    const person = (await listPeople(admin, {})).lines.find(({ userName }) => userName === NEW.userName)!
    const renewed = await renewCode(admin, person.id)
    expect(await signIn(event, { userName: NEW.userName, password: PASSWORD })).toBe(person.id)
    expect(Date.parse(renewed.until) - Date.parse(NOW)).toBeGreaterThan(6.9 * 86_400_000)
    await sql.query(`UPDATE person SET code_until = '2026-11-05T11:59:59Z' WHERE id = $1`, [person.id])
    await expect(
      signInByCode(event, { userName: NEW.userName, code: renewed.code, password: PASSWORD }),
    ).rejects.toMatchObject({ code: 'wrong-one-time-code' })
    await sql.query('UPDATE person SET code_until = $2 WHERE id = $1', [person.id, renewed.until])
    expect(
      await signInByCode(event, { userName: NEW.userName, code: renewed.code, password: 'another long one' }),
    ).toBe(person.id)
  })
})

describe('a person who is changed', () => {
  it('is out at once when switched off, with everything that was open, and comes back', async () => {
    const { id, code } = await makePerson(admin, { ...NEW, userName: 'tam.reed', displayName: 'Tam Reed' })
    const asked = { displayName: 'Tam Reed', role: 'clerk' as const, branch: 'elm', ownOnly: false }
    await changePerson(admin, id, { ...asked, ...ALL, active: false })
    await expect(
      signInByCode(event, { userName: 'tam.reed', code, password: PASSWORD }),
    ).rejects.toMatchObject({ code: 'wrong-one-time-code' })
    await expect(renewCode(admin, id)).rejects.toMatchObject({ code: 'person-off' })
    expect(await sql.query('SELECT session_epoch AS epoch FROM person WHERE id = $1', [id])).toEqual([
      { epoch: 2 },
    ])
    await changePerson(admin, id, { ...asked, ...ALL, branch: 'oak', active: true })
    expect(
      (
        await sql.query<{ act: string }>('SELECT act FROM person_event WHERE person = $1 ORDER BY seq', [id])
      ).map(({ act }) => act),
    ).toEqual(['made', 'off', 'on'])
    await expect(
      changePerson(ofNorth, id, { ...asked, ...ALL, branch: 'yew', active: true }),
    ).rejects.toMatchObject({
      code: 'outside-branch',
    })
  })

  it('is never the administrator’s own way out, nor somebody of another branch', async () => {
    await expect(
      changePerson(admin, admin.id, {
        ...ALL,
        displayName: 'X',
        role: 'administrator',
        branch: null,
        ownOnly: false,
        active: false,
      }),
    ).rejects.toMatchObject({ code: 'not-yourself' })
    await expect(
      changePerson(ofNorth, admin.id, {
        ...ALL,
        displayName: 'X',
        role: 'reader',
        branch: 'north',
        ownOnly: false,
        active: true,
      }),
    ).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(renewCode(admin, '019a0000-0000-7000-8000-000000000001')).rejects.toMatchObject({
      status: 404,
    })
    expect((await listPeople(ofNorth, {})).lines.map(({ userName }) => userName)).toEqual([
      'Nell.Fyne',
      'tam.reed',
    ])
  })
})

describe('the people in pages', () => {
  it('come by name, each once, and are found by parts of a name or of their area', async () => {
    const found: string[] = []
    const names = await sql.query<{ name: string }>(
      `SELECT display_name AS name FROM person WHERE role <> 'machine' ORDER BY NOT active, display_name, id`,
    )
    await sql.query(
      `INSERT INTO person (id, user_name, user_key, display_name, role, branch, search_text)
       SELECT md5('page ' || n)::uuid, 'page.' || n, 'page.' || n, 'Page ' || lpad(n::text, 3, '0'), 'reader', 'north', 'page ' || n
       FROM generate_series(1, 90) AS n`,
    )
    let after: string | undefined
    for (let more = true; more;) {
      const page = await listPeople(admin, { after })
      expect([page.lines.length <= 40, page.count]).toEqual([true, names.length + 90])
      found.push(...page.lines.map(({ id }) => id))
      after = page.lines.at(-1)!.id
      more = page.more
    }
    expect([new Set(found).size, found.length]).toEqual([names.length + 90, names.length + 90])
    expect(
      (await listPeople(admin, { find: 'PAGE 7' })).lines.map(({ displayName }) => displayName),
    ).toContain('Page 070')
    expect(
      (await listPeople(admin, { find: 'north page 81' })).lines.map(({ userName }) => userName),
    ).toEqual(['page.81'])
    await sql.query(`DELETE FROM person WHERE user_name LIKE 'page.%'`)
  })
})

describe('a clerk who sees only what they filled', () => {
  const own: Access = { ...personOf('clerk', 'elm'), ownOnly: true }
  const other: Access = { ...personOf('clerk', 'elm'), id: personOf('officer', null).id }

  it('begins a report that nobody has begun, and does not see that of somebody else', async () => {
    await fillReport(other, OCTOBER, 'elm', { tested: 4 })
    await expect(reportFile(own, OCTOBER, 'elm')).rejects.toMatchObject({ status: 403, code: 'own-only' })
    await expect(fillReport(own, OCTOBER, 'elm', { tested: 4 })).rejects.toMatchObject({
      code: 'own-only',
    })
    expect((await dueList(own)).now.map(({ round }) => round.id)).not.toContain(OCTOBER)
    expect((await dueList(other)).now.map(({ round }) => round.id)).toContain(OCTOBER)
  })
})
