import { describe, expect, inject, it } from 'vitest'
import { Client } from '../support/client'
import { PASSWORD } from '../support/server'

const address = inject('address')

describe('signing in', () => {
  it('ignores the case of the user name', async () => {
    const client = new Client(address)
    const { status, body } = await client.post<{ person: { role: string } }>('/api/session', {
      userName: ' Officer.ASHMERE',
      password: PASSWORD,
    })
    expect([status, body.person.role]).toEqual([200, 'officer'])
  })

  it('sets a cookie that scripts cannot read and other sites cannot send', async () => {
    const { headers } = await new Client(address).post('/api/session', {
      userName: 'reader',
      password: PASSWORD,
    })
    expect(headers.getSetCookie()[0]).toMatch(/HttpOnly/)
    expect(headers.getSetCookie()[0]).toMatch(/SameSite=Strict/)
  })

  it('is slower after each wrong password, for names that exist and for those that do not', async () => {
    for (const userName of ['clerk.brackwater', 'nobody.at.all']) {
      const client = new Client(address)
      const codes: unknown[] = []
      for (let attempt = 0; attempt < 5; attempt++)
        codes.push((await client.post('/api/session', { userName, password: 'wrong' })).body.code)
      expect(codes).toEqual([
        'wrong-password',
        'wrong-password',
        'wrong-password',
        'wrong-password',
        'too-many-tries',
      ])
      const locked = await client.post<{ problems: { values: { seconds: number } }[] }>('/api/session', {
        userName,
        password: PASSWORD,
      })
      expect(locked.status).toBe(429)
      expect(Number(locked.headers.get('retry-after'))).toBeGreaterThan(0)
      expect(locked.body.problems[0]!.values.seconds).toBeGreaterThan(0)
    }
  })

  it('does not let many tries at once slip through', async () => {
    const client = new Client(address)
    const answers = await Promise.all(
      Array.from({ length: 20 }, () =>
        client.post('/api/session', { userName: 'clerk.eel_sluice', password: 'guess' }),
      ),
    )
    const codes = answers.map(({ body }) => body.code)
    expect(codes.filter(code => code === 'wrong-password')).toHaveLength(4)
    expect(codes.filter(code => code === 'too-many-tries')).toHaveLength(16)
  })

  it('ends here, or everywhere', async () => {
    const phone = await Client.signedIn(address, 'clerk.pinfold')
    const desk = await Client.signedIn(address, 'clerk.pinfold')
    const third = await Client.signedIn(address, 'clerk.pinfold')
    await third.delete('/api/session')
    expect((await third.get('/api/due')).status).toBe(401)
    expect((await phone.get('/api/due')).status).toBe(200)
    await desk.delete('/api/sessions')
    expect((await phone.get('/api/due')).status).toBe(401)
    expect((await phone.get('/api/session')).body).toBeNull()
  })
})

describe('the first administrator', () => {
  it('cannot be made twice', async () => {
    const { status, body } = await new Client(address).post('/api/setup', {
      code: 'AAAA-BBBB-CCCC',
      installation: 'Xy',
      timeZone: 'UTC',
      userName: 'xyz',
      displayName: 'Xy',
      password: '1234567890',
    })
    expect([status, body.code]).toEqual([409, 'setup-done'])
  })
})
