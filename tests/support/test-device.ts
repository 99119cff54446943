import { v7 as uuid } from 'uuid'
import type { DeskChange, DeskOutcome } from '#core/contract/desk'
import type { DeskSession, Paired } from '#core/contract/devices'
import { cardFor, Client, type Answer } from './client'
import { PASSWORD } from './server'

/** What may go wrong on the way of one request. */
export type Fault = 'none' | 'cutBefore' | 'answerLost'

type Sent = { at: string; outcomes: DeskOutcome[]; incarnation: number; backedUpTo: string | null }

/** A person who signs in at a device: it shows its own token and the person's session, and no cookie. */
async function signedIn(address: string, token: string, userName: string): Promise<Client> {
  const shown = { 'x-lantern-device': token }
  const { status, body } = await new Client(address, shown).post<DeskSession>('/api/desk/sign-in', {
    userName,
    password: PASSWORD,
  })
  if (status !== 200) throw new Error(`${userName} could not sign in at the device: ${status}`)
  return new Client(address, { ...shown, authorization: `Bearer ${body.session}` })
}

/**
 * A device as the district sees one: it keeps what waits until the district has said that it has it, and
 * sends it in pieces over a line that may fail at any request.
 */
export class TestDevice {
  readonly made: DeskChange[] = []
  /** How many times the district was asked, failures too. */
  asked = 0
  readonly milliseconds: number[] = []
  readonly outcomes = new Map<string, DeskOutcome>()
  private waiting: DeskChange[] = []
  /** What the district confirmed and has not said to be in a backup. */
  private confirmed: { change: DeskChange; at: string }[] = []
  private incarnation: number | null = null
  private lastOf = new Map<string, string>()

  private constructor(
    private client: Client,
    readonly paired: Paired,
    private readonly piece: number,
    private readonly fault: (request: number) => Fault,
  ) {}

  static async pair(
    address: string,
    person: string,
    code: string,
    piece = 50,
    fault: (request: number) => Fault = () => 'none',
  ): Promise<TestDevice> {
    const { status, body } = await new Client(address).post<Paired>('/api/desk/pair', { code })
    if (status !== 200) throw new Error(`The device could not be paired: ${status} ${JSON.stringify(body)}`)
    return new TestDevice(await signedIn(address, body.token, person), body, piece, fault)
  }

  /** A device of a facility with its clerk, paired by a card of its own. */
  static async at(address: string, unit: string): Promise<TestDevice> {
    return TestDevice.pair(address, `clerk.${unit}`, await cardFor(address, unit, 1))
  }

  /** Signs in anew, after the server was started again elsewhere. */
  async comeBack(address: string, person: string): Promise<void> {
    this.client = await signedIn(address, this.paired.token, person)
  }

  /** The person at this device, with the session that the device shows. */
  get person(): Client {
    return this.client
  }

  /**
   * Writes a value; a second one into the same cell follows the first. @param base the version that it is
   * made on
   */
  write(round: string, unit: string, cell: string, value: number, base = 0): void {
    const field = `${round} ${unit} ${cell}`
    const after = this.lastOf.get(field)
    const change: DeskChange = {
      kind: 'cell',
      id: uuid(),
      madeAt: new Date().toISOString(),
      round,
      unit,
      cell,
      base,
      content: { kind: 'value', value },
      why: 'typed on the device',
      ...(after && { after }),
    }
    this.lastOf.set(field, change.id)
    this.add(change)
  }

  add(change: DeskChange): void {
    this.made.push(change)
    this.waiting.push(change)
  }

  get left(): number {
    return this.waiting.length
  }
  get kept(): number {
    return this.confirmed.length
  }

  /**
   * The district may have been put back from a backup: everything that is kept then goes again, in its order.
   */
  private noteStanding({ incarnation, backedUpTo }: Pick<Sent, 'incarnation' | 'backedUpTo'>): void {
    const isRestored = this.incarnation !== null && this.incarnation !== incarnation
    this.incarnation = incarnation
    if (isRestored) {
      const again = new Set([
        ...this.confirmed.map(({ change }) => change.id),
        ...this.waiting.map(({ id }) => id),
      ])
      this.waiting = this.made.filter(({ id }) => again.has(id))
      this.confirmed = []
    }
    if (backedUpTo) this.confirmed = this.confirmed.filter(({ at }) => at >= backedUpTo)
  }

  /** Sends one piece. A fault is a request that never arrives, or an answer that never comes back. */
  async sendOnce(): Promise<void> {
    const changes = this.waiting.slice(0, this.piece)
    const fault = this.fault(++this.asked)
    if (!changes.length || fault === 'cutBefore') return
    const begun = performance.now()
    const answer = await this.client.send<Sent>('POST', '/api/desk/send', {
      device: this.paired.device,
      clock: new Date().toISOString(),
      changes,
    })
    this.milliseconds.push(performance.now() - begun)
    if (answer.status !== 200)
      throw new Error(`The district refused: ${answer.status} ${answer.text.slice(0, 300)}`)
    if (fault === 'answerLost') return
    const had = new Set<string>()
    for (const outcome of answer.body.outcomes) {
      this.outcomes.set(outcome.id, outcome)
      if (outcome.outcome !== 'early') had.add(outcome.id)
    }
    const gone = this.waiting.filter(({ id }) => had.has(id))
    this.waiting = this.waiting.filter(({ id }) => !had.has(id))
    this.noteStanding(answer.body)
    // What this answer confirmed is in the incarnation that gave it.
    this.confirmed.push(...gone.map(change => ({ change, at: answer.body.at })))
  }

  /** Sends changes as they are, past what waits. @returns the outcome of each. */
  async sendNow(
    changes: readonly unknown[],
  ): Promise<Answer<Sent & { code?: string; problems?: unknown[] }>> {
    return this.client.post('/api/desk/send', {
      device: this.paired.device,
      clock: new Date().toISOString(),
      changes,
    })
  }

  async sendAll(mostTries = 10_000): Promise<void> {
    for (let tries = 0; this.waiting.length && tries < mostTries; tries++) await this.sendOnce()
  }

  /** Everything that the district tells this device, from the beginning, in pieces. */
  async receiveAll(): Promise<{ kind: string; last?: string; id?: string }[]> {
    const events: { kind: string; last?: string; id?: string }[] = []
    let since = '0.0.0.0'
    for (let more = true; more;) {
      const { body } = await this.client.send<
        { cursor: string; more: boolean; events: typeof events } & Pick<Sent, 'incarnation' | 'backedUpTo'>
      >('GET', `/api/desk/receive?since=${since}&most=500`)
      events.push(...body.events)
      this.noteStanding(body)
      since = body.cursor
      more = body.more
    }
    return events
  }
}
