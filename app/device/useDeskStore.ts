import Dexie, { type Table, type Transaction } from 'dexie'
import { afterAct, type CaseLife } from '#core/cases/life'
import type { DeskChange } from '#core/contract/desk'
import type { Paired } from '#core/contract/devices'
import type { Theirs } from '#core/contract/reports'
import type { Answers } from '#core/form/answer'
import type { CellContent } from '#core/report/cell'
import type { CarryKeys } from '#core/protect/carry-file'
import type { WrappedKey } from '#core/protect/pin-key'
import type { QueueState } from '#core/sync/queue'
import { openBytes, sealBytes, type Sealed } from '#core/protect/seal'
import { ENTRY_COLUMNS, readEntries, type EntryReader, type EntryTable } from './entryReader'
import { entryThread } from './entryThread'
import { SealedTable } from './sealedTable'

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

/** How the district said that a case is: only of cases that were moved, closed or merged. */
export interface StoredLife extends CaseLife {
  case: string
  /** When something happened to it last, RFC 3339. */
  at: string
  mergedInto: string | null
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

/** Where acts on cases stand among the changes: before the identifier of the case. */
const CASE_PLACE = 'case|'
export const casePlace = (id: string): string => `${CASE_PLACE}${id}`

const workName = (person: string) => `lantern-work-${person}${phoneName()}`

/** One person's data on this device, encrypted with their key. */
export class WorkStore {
  private readonly database: Dexie
  readonly serverCache: SealedTable<CachedAnswer, 'key'>
  readonly changes: SealedTable<
    WaitingChange,
    'seq' | 'id' | 'place' | 'state' | 'left' | 'cell' | 'base' | 'after' | 'settles' | 'confirmedAt'
  >
  readonly entries: EntryTable
  readonly lives: SealedTable<StoredLife, 'case' | 'at'>
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
    this.database.version(4).stores({ lives: 'case, at' })
    this.serverCache = new SealedTable(this.database.table('serverCache'), ['key'], key)
    this.changes = new SealedTable(
      this.database.table('changes'),
      ['seq', 'id', 'place', 'state', 'left', 'cell', 'base', 'after', 'settles', 'confirmedAt'],
      key,
    )
    this.entries = new SealedTable(this.database.table('entries'), ENTRY_COLUMNS, key)
    this.lives = new SealedTable(this.database.table('lives'), ['case', 'at'], key)
    this.noteCasesWritten()
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

  /** Grows when a transaction of this page that wrote something of cases is through. */
  private casesWritten = 0
  private noteCasesWritten(): void {
    // What a hook returns would be taken for a change of the row.
    const note = (transaction: Transaction): undefined => {
      transaction.on('complete', () => {
        this.casesWritten++
      })
    }
    for (const { raw } of [this.entries, this.lives]) {
      raw.hook('creating', (_key, _row, transaction) => note(transaction))
      raw.hook('updating', (_change, _key, _row, transaction) => note(transaction))
      raw.hook('deleting', (_key, _row, transaction) => note(transaction))
    }
  }
  /** The acts on cases that the district has not got yet, in their order. */
  private readonly waitingActs = () =>
    this.changes.raw
      .where('place')
      .startsWith(CASE_PLACE)
      .filter(({ state }) => state === 'waiting')
  /**
   * A mark that changes when something of cases does: here, or by another page how many entries there are, which
   * is the last, what happened last to a case, and which acts wait.
   */
  async casesMark(): Promise<string> {
    const written = this.casesWritten
    const marks = await Promise.all([
      this.entries.raw.count(),
      this.entries.raw.orderBy('seq').lastKey(),
      this.lives.raw.orderBy('at').lastKey(),
      this.waitingActs().primaryKeys(),
    ])
    return `${written} ${marks.map(String).join(' ')}`
  }

  /**
   * Where the cases are to which something happened, and whether they are closed: as the district said, and
   * after what was done on this device since.
   */
  async livesOfCases(): Promise<Map<string, StoredLife>> {
    const lives = new Map((await this.lives.all()).map(life => [life.case, life]))
    const rows = await this.waitingActs().sortBy('seq')
    for (const { change } of await Promise.all(rows.map(row => this.changes.opened(row)))) {
      if (change.kind !== 'caseAct') continue
      const life = lives.get(change.case) ?? {
        ...{ case: change.case, at: change.madeAt, mergedInto: null },
        ...{ unit: change.unit, moves: [], closed: null },
      }
      lives.set(change.case, { ...life, ...afterAct(life, change.act) })
    }
    return lives
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

  private reader: EntryReader | undefined
  /** A reader that tells all entries anew, in a thread of its own where there are any. The one before ends. */
  entryReader(): EntryReader {
    this.reader?.close()
    this.reader =
      'Worker' in globalThis ? entryThread(this.database.name, this.key) : readEntries(this.entries)
    return this.reader
  }

  close(): void {
    this.reader?.close()
    this.database.close()
  }
  transaction = <T>(work: () => Promise<T>): Promise<T> =>
    this.database.transaction(
      'rw',
      [this.changes.raw, this.entries.raw, this.lives.raw, this.serverCache.raw],
      work,
    )

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
