import type { CardMade, DeviceSettings } from '#core/contract/devices'
import { CARD_SETTINGS } from './samples'
import { PASSWORD } from './server'

export interface Answer<T = Record<string, unknown>> {
  status: number
  type: string
  headers: Headers
  body: T
  text: string
}

/** A person at the API: keeps the session cookie as a browser does. */
export class Client {
  private cookie = ''

  /** @param shown headers of every request: what a device shows instead of a cookie. */
  constructor(
    readonly address: string,
    private readonly shown: Record<string, string> = {},
  ) {}

  static async signedIn(address: string, userName: string): Promise<Client> {
    const client = new Client(address)
    const { status } = await client.post('/api/session', { userName, password: PASSWORD })
    if (status !== 200) throw new Error(`${userName} could not sign in: ${status}`)
    return client
  }

  /** The same person with the same cookie, at another process. */
  at(address: string): Client {
    const other = new Client(address, this.shown)
    other.cookie = this.cookie
    return other
  }

  // The body's shape is the test's to say.
  async send<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const raw = typeof body === 'string' ? body : body === undefined ? undefined : JSON.stringify(body)
    const response = await fetch(this.address + path, {
      method,
      body: raw,
      headers: {
        ...(this.cookie && { cookie: this.cookie }),
        ...this.shown,
        ...(method !== 'GET' && { origin: this.address, 'content-type': 'application/json' }),
        ...headers,
      },
    })
    const set = response.headers.getSetCookie()[0]
    if (set) this.cookie = set.split(';')[0]!
    const text = await response.text()
    const type = response.headers.get('content-type') ?? ''
    return {
      status: response.status,
      type,
      headers: response.headers,
      text,
      body: (type.includes('json') ? JSON.parse(text) : text) as T,
    }
  }

  /** The bytes of a file. */
  async bytes(path: string): Promise<Buffer> {
    const answer = await fetch(this.address + path, {
      headers: { ...(this.cookie && { cookie: this.cookie }), ...this.shown },
    })
    if (!answer.ok) throw new Error(`${path}: ${answer.status}`)
    return Buffer.from(await answer.arrayBuffer())
  }

  get = <T = Record<string, unknown>>(path: string) => this.send<T>('GET', path)
  post = <T = Record<string, unknown>>(path: string, body?: unknown, headers?: Record<string, string>) =>
    this.send<T>('POST', path, body, headers)
  delete = <T = Record<string, unknown>>(path: string) => this.send<T>('DELETE', path)
}

/** Makes a card that pairs devices with a facility, as the administrator. @returns its code. */
export async function cardFor(
  address: string,
  unit: string,
  uses = 10,
  { name = 'A trial', settings = CARD_SETTINGS }: { name?: string; settings?: DeviceSettings } = {},
): Promise<string> {
  const admin = await Client.signedIn(address, 'admin')
  const card = { name, unit, uses, days: 1, settings }
  const { status, body } = await admin.post<CardMade>('/api/pairing-cards', card)
  if (status !== 200) throw new Error(`The card was not made: ${status}`)
  return body.code
}

export const OCTOBER = 'monthly_summary~2026-10'
/** A round that every district of the demo has signed. */
export const SIGNED = 'monthly_summary~2026-09'
