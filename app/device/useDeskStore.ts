import Dexie, { type Table, type Transaction } from 'dexie'
import type { DeskChange } from '#core/contract/desk'
import type { Paired } from '#core/contract/devices'
import type { Theirs } from '#core/contract/reports'
import type { Answers } from '#core/form/answer'
import type { CellContent } from '#core/report/cell'
import type { CarryKeys } from '#core/protect/carry-file'
import type { WrappedKey } from '#core/protect/pin-key'
import type { QueueState } from '#core/sync/queue'
import { open, openBytes, seal, sealBytes, type Sealed } from '#core/protect/seal'

/** The pairing of this device with its district. Its private keys cannot be exported from the browser. */
export interface StoredDevice extends Paired {
  id: 'this'
  keys?: CarryKeys
  /** Wrong tries of the PIN for settings in a row, and when the last was. */
  settingsTries?: { wrong: number; wrongAt: number }
}

/** A person of this device. The name is readable, for the list at unlocking; everything else is encrypted. */
export interface StoredPerson {
  id: string
  userName: string
  displayName: string
  /** The person's data key, wrapped by the PIN and by the recovery secret of the server. */
  pin: WrappedKey
  recovery: WrappedKey
  /** The person's session and identity. */
  session: Sealed
  wrong: number
  wrongAt: number
}

/**
 * A change on this device: pending, in need of a person, or confirmed (kept until it is in a backup of the
 * server).
 */
export interface WaitingChange {
  /** Keeps the order in which they were made, whatever the clock does. */
  seq?: number
  id: string
  /** `round|unit`, or what the change is about. */
  place: string
  state: QueueState
  /** When the district confirmed it, by its clock. */
  confirmedAt?: string
  /** It was sent at least once, so the server may have it: it is never altered, a newer change follows it. */
  left?: boolean
  cell?: string
  base?: number
  after?: string
  /** The conflicts that it resolves. */
  settles?: string[]
  change: DeskChange
  /** The code of the rejection. */
  why?: string
  /** What the district office wrote about it. */
  said?: string
  theirs?: Theirs
}

/** A confirmed value with its version. */
export interface ReceivedCell {
  content: CellContent
  version: number
}

/**
 * A filled case form on this device: its own, waiting or received, and those of the facility's other devices.
 */
export interface StoredEntry {
  seq?: number
  id: string
  case: string
  /**
   * `waiting`: only on this device. `received`: the district has it, and said so. `refused`: it needs a
   * person.
   */
  state: 'waiting' | 'received' | 'refused'
  receivedAt?: string
  /** Filled on this device: sent again when the server was restored from a backup. */
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
  /** What was said of the doubts that it raises, by their keys. */
  explanations?: Record<string, string>
}

/** A form that was begun and not saved yet. */
export interface Draft {
  place: string
  at: number
  content: unknown
}
/** A cached answer of the server, for work without a network. */
interface CachedAnswer {
  key: string
  answer: unknown
}
/**
 * A picture or sound with encrypted bytes. `draft` until its form is saved; `upTo`: bytes that the server
 * has; `refused`: rejected.
 */
export interface StoredFile {
  hash: string
  state: 'draft' | 'waiting' | 'received' | 'refused'
  bytes: number
  mediaType: string
  upTo: number
  at: number
}

/**
 * A table with encrypted rows. Only the columns that queries need are readable: identifiers and states.
 * Encryption is asynchronous and cannot run inside an IndexedDB transaction: encrypt first, then write.
 */
export class SealedTable<T extends object, Plain extends keyof T & string> {
  constructor(
    readonly raw: Table<Record<string, unknown>>,
    private readonly plain: readonly Plain[],
    private readonly key: CryptoKey,
  ) {}

  /** A row as it is stored. */
  async shut(row: T): Promise<Record<string, unknown>> {
    const split = (inside: boolean) =>
      Object.fromEntries(
        Object.entries(row).filter(
          ([name, value]) => value !== undefined && this.plain.includes(name as Plain) === inside,
        ),
      )
    return { ...split(true), sealed: await seal(this.key, split(false)) }
  }

  async opened(row: Record<string, unknown>): Promise<T> {
    const { sealed, ...rest } = row
    return { ...rest, ...(await open<object>(this.key, sealed as Sealed)) } as T
  }

  private openAll = (rows: Record<string, unknown>[]) => Promise.all(rows.map(row => this.opened(row)))
  all = async () => this.openAll(await this.raw.toArray())
  where = async (column: Plain, value: string) =>
    this.openAll(await this.raw.where(column).equals(value).toArray())
  get = async (column: Plain, value: string): Promise<T | undefined> => {
    const row = await this.raw.where(column).equals(value).first()
    return row && this.opened(row)
  }
  /** Writes a row, replacing the one with the same identifier. */
  async put(row: T, column: Plain): Promise<void> {
    const shut = await this.shut(row)
    await this.raw.db.transaction('rw', this.raw, async () => {
      const there = await this.raw
        .where(column)
        .equals(row[column] as string)
        .first()
      await this.raw.put({ ...(there?.seq !== undefined && { seq: there.seq }), ...shut })
    })
  }
  /** Changes readable columns. */
  set = (column: Plain, value: string, change: Partial<Pick<T, Plain>>) =>
    this.raw.where(column).equals(value).modify(change)
  remove = (column: Plain, values: readonly string[]) =>
    this.raw
      .where(column)
      .anyOf([...values])
      .delete()
  count = (column: Plain, value: string) => this.raw.where(column).equals(value).count()
}

/** Training phones side by side on one page are separate devices: each has a name, and storage of its own. */
export const phoneName = (): string => (window.name.startsWith('lantern-phone-') ? `-${window.name}` : '')

/**
 * Strict durability: without it the browser may delay writing to disk, and an empty battery loses the data.
 */
const SURE = { chromeTransactionDurability: 'strict' } as const

class DeviceDatabase extends Dexie {
  device!: Table<StoredDevice>
  people!: Table<StoredPerson>
  constructor() {
    super(`lantern-device${phoneName()}`, SURE)
    this.version(1).stores({ device: 'id', people: 'id' })
  }
}
let device: DeviceDatabase | undefined
/** The device's own data, readable without a PIN. */
export function deviceDatabase(): DeviceDatabase {
  device ??= new DeviceDatabase()
  return device
}

const workName = (person: string) => `lantern-work-${person}${phoneName()}`

/** One person's data on this device, encrypted with their key. */
export class WorkStore {
  private readonly database: Dexie
  readonly serverCache: SealedTable<CachedAnswer, 'key'>
  readonly changes: SealedTable<
    WaitingChange,
    'seq' | 'id' | 'place' | 'state' | 'left' | 'cell' | 'base' | 'after' | 'settles' | 'confirmedAt'
  >
  readonly entries: SealedTable<StoredEntry, 'seq' | 'id' | 'case' | 'state' | 'receivedAt' | 'own'>
  readonly drafts: SealedTable<Draft, 'place' | 'at'>
  readonly files: Table<StoredFile & { sealed: Sealed }>

  constructor(
    person: string,
    private readonly key: CryptoKey,
  ) {
    this.database = new Dexie(workName(person), SURE)
    this.database.version(1).stores({
      told: 'key',
      changes: '++seq, &id, place, state, after, [place+cell]',
      entries: '++seq, &id, case, state',
      drafts: 'place',
      files: 'hash, state',
    })
    // The cache had another name before. It is copied first: a table that is dropped can no longer be read.
    this.database
      .version(2)
      .stores({ serverCache: 'key' })
      .upgrade(async tx => {
        await tx.table('serverCache').bulkPut(await tx.table('told').toArray())
      })
    this.database.version(3).stores({ told: null })
    this.serverCache = new SealedTable(this.database.table('serverCache'), ['key'], key)
    this.changes = new SealedTable(
      this.database.table('changes'),
      ['seq', 'id', 'place', 'state', 'left', 'cell', 'base', 'after', 'settles', 'confirmedAt'],
      key,
    )
    this.entries = new SealedTable(
      this.database.table('entries'),
      ['seq', 'id', 'case', 'state', 'receivedAt', 'own'],
      key,
    )
    this.noteEntriesWritten()
    this.drafts = new SealedTable(this.database.table('drafts'), ['place', 'at'], key)
    this.files = this.database.table('files')
  }

  private readonly lately = new Map<string, Map<string, ReceivedCell>>()
  noteReceived(place: string, cell: string, received: ReceivedCell): void {
    const there = this.lately.get(place) ?? new Map<string, ReceivedCell>()
    this.lately.set(place, there.set(cell, received))
  }
  /** Values confirmed since this device was unlocked; the cached report may be older. */
  receivedOf = (place: string): ReadonlyMap<string, ReceivedCell> => this.lately.get(place) ?? new Map()

  /** Pending and rejected changes of one place, oldest first. */
  async unsettled(place: string): Promise<WaitingChange[]> {
    const rows = await this.changes.raw
      .where('place')
      .equals(place)
      .filter(({ state }) => state !== 'confirmed')
      .sortBy('seq')
    return Promise.all(rows.map(row => this.changes.opened(row)))
  }

  /** Grows when a transaction of this page that wrote entries is through. */
  private entriesWritten = 0
  private noteEntriesWritten(): void {
    // What a hook returns would be taken for a change of the row.
    const note = (transaction: Transaction): undefined => {
      transaction.on('complete', () => {
        this.entriesWritten++
      })
    }
    this.entries.raw.hook('creating', (_key, _row, transaction) => note(transaction))
    this.entries.raw.hook('updating', (_change, _key, _row, transaction) => note(transaction))
    this.entries.raw.hook('deleting', (_key, _row, transaction) => note(transaction))
  }
  /** A mark that changes when entries do: here, or by another page how many there are and which is the last. */
  async entriesMark(): Promise<string> {
    const written = this.entriesWritten
    const [count, last] = await Promise.all([
      this.entries.raw.count(),
      this.entries.raw.orderBy('seq').lastKey(),
    ])
    return `${written} ${count} ${String(last)}`
  }

  /**
   * Keeps a new entry and removes the draft that it was made of, together: a page that is closed in between
   * would offer what is saved once more. @param draft its place, where there was one
   */
  async addEntry(entry: StoredEntry, draft?: string): Promise<void> {
    const row = await this.entries.shut(entry)
    await this.database.transaction('rw', this.entries.raw, this.drafts.raw, async () => {
      await this.entries.raw.add(row)
      if (draft !== undefined) await this.drafts.raw.delete(draft)
    })
  }

  close = () => this.database.close()
  transaction = <T>(work: () => Promise<T>): Promise<T> =>
    this.database.transaction('rw', this.changes.raw, this.entries.raw, this.serverCache.raw, work)

  async putFile(file: StoredFile, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
    await this.files.put({ ...file, sealed: await sealBytes(this.key, bytes) })
  }
  async bytesOf(hash: string): Promise<{ file: StoredFile; bytes: Uint8Array<ArrayBuffer> } | null> {
    const stored = await this.files.get(hash)
    if (!stored) return null
    const { sealed, ...file } = stored
    return { file, bytes: await openBytes(this.key, sealed) }
  }
}

/** Counts the pending records of a locked person: states are readable without the key. */
export async function waitingOf(person: string): Promise<number> {
  if (!(await Dexie.exists(workName(person)))) return 0
  const database = new Dexie(workName(person))
  await database.open()
  const [changes, entries] = await Promise.all(
    ['changes', 'entries'].map(table => database.table(table).where('state').equals('waiting').count()),
  )
  database.close()
  return changes! + entries!
}

/** Deletes a person's data from this device. */
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
/** The store of the person who unlocked this device. @throws when the device is locked. */
export function useDeskStore(): WorkStore {
  if (!work) throw new Error('The desk is locked.')
  return work
}
