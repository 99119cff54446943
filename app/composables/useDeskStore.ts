import Dexie, { type Table } from 'dexie'
import type { DeskChange } from '#core/contract/desk'
import type { Paired } from '#core/contract/devices'
import type { ChangeOutcome } from '#core/contract/reports'
import type { Answers } from '#core/form/answer'
import type { CellContent } from '#core/report/cell'
import type { CarryKeys } from '#core/protect/carry-file'
import type { WrappedKey } from '#core/protect/pin-key'
import { open, openBytes, seal, sealBytes, type Sealed } from '#core/protect/seal'

/** This device: its pairing with its district. The secret halves of its keys never leave the browser's keeping. */
export interface KeptDevice extends Paired {
  id: 'this'
  keys?: CarryKeys
  /** Wrong tries of the PIN for settings in a row, and when the last was. */
  settingsTries?: { wrong: number; wrongAt: number }
}

/** A person of this device. The name stands open, to choose from; all else is sealed by the person's key. */
export interface KeptPerson {
  id: string
  userName: string
  displayName: string
  /** The key of the person's work, wrapped by the PIN, and by the secret that the district keeps. */
  pin: WrappedKey
  recovery: WrappedKey
  /** What the person shows to the district, and who they are. */
  session: Sealed
  wrong: number
  wrongAt: number
}

/** A change on this device: it waits, needs a person, or was confirmed and stays until it is in a backup. */
export interface WaitingChange {
  /** Keeps the order in which they were made, whatever the clock does. */
  seq?: number
  id: string
  /** `round|unit`, or what the change is about. */
  place: string
  state: 'waiting' | 'needsYou' | 'confirmed'
  /** When the district confirmed it, by its clock. */
  confirmedAt?: string
  /** It left this device at least once, so the district may have it: from then on it is followed, never altered. */
  left?: boolean
  cell?: string
  base?: number
  after?: string
  /** The conflicts that it decides. */
  settles?: string[]
  change: DeskChange
  /** Why the district did not take it, or what stands there instead. */
  why?: string
  /** What the district office wrote about it. */
  said?: string
  theirs?: ChangeOutcome['theirs']
}

/** A value that the district has, and the version that it made. */
export interface ReceivedCell { content: CellContent; version: number }

/** A filled case form on this device: its own, waiting or received, and those of the facility's other devices. */
export interface KeptEntry {
  seq?: number
  id: string
  case: string
  /** `waiting`: only on this device. `received`: the district has it, and said so. `refused`: it needs a person. */
  state: 'waiting' | 'received' | 'refused'
  receivedAt?: string
  /** Filled on this device: it goes again when the district was put back from a backup. */
  own?: boolean
  register: string
  edition: number
  form: string
  unit: string
  answers: Answers
  madeAt: string
  why?: string
  corrects?: string
  parent?: string
}

/** Something that somebody has begun and not kept yet. */
export interface Draft { place: string; at: number; content: unknown }
/** What the district last told, as it told it, for working without a network. */
interface Told { key: string; answer: unknown }
/** A picture or a sound: its bytes are sealed; `draft` until its form is kept; up to where the district has them; `refused` where it will not. */
export interface KeptFile { hash: string; state: 'draft' | 'waiting' | 'received' | 'refused'; bytes: number; mediaType: string; upTo: number; at: number }

/**
 * A table whose rows are sealed but for the columns that queries need: identifiers and states, never what somebody
 * wrote. Sealing cannot wait inside a transaction of the browser's database: seal first, then write.
 */
export class SealedTable<T extends object, Plain extends keyof T & string> {
  constructor(readonly raw: Table<Record<string, unknown>>, private readonly plain: readonly Plain[], private readonly key: CryptoKey) {}

  /** A row as it is kept. */
  async shut(row: T): Promise<Record<string, unknown>> {
    const split = (inside: boolean) => Object.fromEntries(Object.entries(row).filter(([name, value]) => value !== undefined && this.plain.includes(name as Plain) === inside))
    return { ...split(true), sealed: await seal(this.key, split(false)) }
  }

  async opened(row: Record<string, unknown>): Promise<T> {
    const { sealed, ...rest } = row
    return { ...rest, ...await open<object>(this.key, sealed as Sealed) } as T
  }

  private openAll = (rows: Record<string, unknown>[]) => Promise.all(rows.map(row => this.opened(row)))
  all = async () => this.openAll(await this.raw.toArray())
  where = async (column: Plain, value: string) => this.openAll(await this.raw.where(column).equals(value).toArray())
  get = async (column: Plain, value: string): Promise<T | undefined> => {
    const row = await this.raw.where(column).equals(value).first()
    return row && this.opened(row)
  }
  /** Writes a row in the place of the one that has the same identifier. */
  async put(row: T, column: Plain): Promise<void> {
    const shut = await this.shut(row)
    await this.raw.db.transaction('rw', this.raw, async () => {
      const there = await this.raw.where(column).equals(row[column] as string).first()
      await this.raw.put({ ...(there?.seq !== undefined && { seq: there.seq }), ...shut })
    })
  }
  /** Changes columns that stand open. */
  set = (column: Plain, value: string, change: Partial<Pick<T, Plain>>) => this.raw.where(column).equals(value).modify(change)
  remove = (column: Plain, values: readonly string[]) => this.raw.where(column).anyOf([...values]).delete()
  count = (column: Plain, value: string) => this.raw.where(column).equals(value).count()
}

/** Three desks side by side on one screen are three devices: each has its own name, and with it its own storage. */
export const phoneName = (): string => (window.name.startsWith('lantern-phone-') ? `-${window.name}` : '')

/** On the disk before it counts as kept: by itself the browser may wait, and what it waits with is gone with the battery. */
const SURE = { chromeTransactionDurability: 'strict' } as const

class DeviceDatabase extends Dexie {
  device!: Table<KeptDevice>
  people!: Table<KeptPerson>
  constructor() {
    super(`lantern-device${phoneName()}`, SURE)
    this.version(1).stores({ device: 'id', people: 'id' })
  }
}
let device: DeviceDatabase | undefined
/** What this device is, for whoever holds it. */
export function deviceDatabase(): DeviceDatabase {
  device ??= new DeviceDatabase()
  return device
}

const workName = (person: string) => `lantern-work-${person}${phoneName()}`

/** The work of one person on this device, sealed by their key. */
export class WorkStore {
  private readonly database: Dexie
  readonly told: SealedTable<Told, 'key'>
  readonly changes: SealedTable<WaitingChange, 'seq' | 'id' | 'place' | 'state' | 'left' | 'cell' | 'base' | 'after' | 'settles' | 'confirmedAt'>
  readonly entries: SealedTable<KeptEntry, 'seq' | 'id' | 'case' | 'state' | 'receivedAt' | 'own'>
  readonly drafts: SealedTable<Draft, 'place' | 'at'>
  readonly files: Table<KeptFile & { sealed: Sealed }>

  constructor(person: string, private readonly key: CryptoKey) {
    this.database = new Dexie(workName(person), SURE)
    this.database.version(1).stores({ told: 'key', changes: '++seq, &id, place, state, after, [place+cell]', entries: '++seq, &id, case, state', drafts: 'place', files: 'hash, state' })
    this.told = new SealedTable(this.database.table('told'), ['key'], key)
    this.changes = new SealedTable(this.database.table('changes'), ['seq', 'id', 'place', 'state', 'left', 'cell', 'base', 'after', 'settles', 'confirmedAt'], key)
    this.entries = new SealedTable(this.database.table('entries'), ['seq', 'id', 'case', 'state', 'receivedAt', 'own'], key)
    this.drafts = new SealedTable(this.database.table('drafts'), ['place', 'at'], key)
    this.files = this.database.table('files')
  }

  private readonly lately = new Map<string, Map<string, ReceivedCell>>()
  noteReceived(place: string, cell: string, received: ReceivedCell): void {
    const there = this.lately.get(place) ?? new Map<string, ReceivedCell>()
    this.lately.set(place, there.set(cell, received))
  }
  /** Values of a report that the district has received since this device was unlocked: what it tells of the report may be older. */
  receivedOf = (place: string): ReadonlyMap<string, ReceivedCell> => this.lately.get(place) ?? new Map()

  /** What waits of a place, and what needs a person, in the order in which it was made. */
  async unsettled(place: string): Promise<WaitingChange[]> {
    const rows = await this.changes.raw.where('place').equals(place).filter(({ state }) => state !== 'confirmed').sortBy('seq')
    return Promise.all(rows.map(row => this.changes.opened(row)))
  }

  close = () => this.database.close()
  transaction = <T>(work: () => Promise<T>): Promise<T> => this.database.transaction('rw', this.changes.raw, this.entries.raw, this.told.raw, work)

  async putFile(file: KeptFile, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
    await this.files.put({ ...file, sealed: await sealBytes(this.key, bytes) })
  }
  async bytesOf(hash: string): Promise<{ file: KeptFile; bytes: Uint8Array<ArrayBuffer> } | null> {
    const kept = await this.files.get(hash)
    if (!kept) return null
    const { sealed, ...file } = kept
    return { file, bytes: await openBytes(this.key, sealed) }
  }
}

/** Counts what waits of a person whose work is locked: identifiers and states stand open. */
export async function waitingOf(person: string): Promise<number> {
  if (!(await Dexie.exists(workName(person)))) return 0
  const database = new Dexie(workName(person))
  await database.open()
  const [changes, entries] = await Promise.all(['changes', 'entries'].map(table => database.table(table).where('state').equals('waiting').count()))
  database.close()
  return changes! + entries!
}

/** Takes a person's work off this device, for good. */
export const eraseWork = (person: string): Promise<void> => Dexie.delete(workName(person))

let work: WorkStore | undefined
export function openWork(person: string, key: CryptoKey): WorkStore {
  work = new WorkStore(person, key)
  return work
}
export function shutWork(): void {
  work?.close()
  work = undefined
}
/** The work of whoever unlocked this device. @throws when it is locked: pages of the desk open only after that. */
export function useDeskStore(): WorkStore {
  if (!work) throw new Error('The desk is locked.')
  return work
}
