import { foldCases, type CaseFile } from '#core/cases/fold'
import { nextTurn, whenIdle } from '../common/whenIdle'
import type { StoredEntry, StoredLife, WorkStore } from '../device/useDeskStore'
import { same } from '#core/same'

/** One case, folded from its entries, with what was made of it for the list. */
export interface IndexedCase<Made> {
  file: CaseFile
  entries: StoredEntry[]
  made: Made
}

/** What a case is made into; `key` says when all of them are to be made anew. */
export interface CaseMaker<Made> {
  /** The same as long as what is made stays the same: editions, language, names of places. */
  key: string
  /** An entry as cases are folded from it; null when its register is not known here. */
  entryOf: (entry: StoredEntry) => Parameters<typeof foldCases>[0][number] | null
  make: (file: CaseFile, entries: StoredEntry[], life: StoredLife | null) => Made
}

/** How long one stretch of work may hold a slow phone, in milliseconds: in the background, and when waited for. */
const QUIET_MS = 8
const HURRIED_MS = 60
/** So many entries are read and opened at once: in the background, and when they are waited for. */
const QUIET = 40
const HURRIED = 400

/**
 * The cases of one person on this device. Entries are opened once, and a case is folded and made again only
 * when one of its entries changed. They can be prepared in the background; a page that waits for them makes
 * it go faster.
 */
export class CaseIndex<Made> {
  private readonly entries = new Map<string, StoredEntry>()
  private readonly cases = new Map<string, IndexedCase<Made>>()
  /** Cases to which something happened: moved, closed, merged. */
  private lives: ReadonlyMap<string, StoredLife> = new Map()
  private sorted: IndexedCase<Made>[] = []
  private seen = ''
  private key = ''
  private running: Promise<IndexedCase<Made>[]> | undefined
  /** How many wait for the list. */
  private waiting = 0
  private turn = 0

  constructor(private readonly store: WorkStore) {}

  /**
   * All cases as they are stored now, the latest event first. The same list when nothing changed.
   * @param isWaitedFor false prepares them in the background
   */
  async update(maker: CaseMaker<Made>, isWaitedFor: boolean): Promise<IndexedCase<Made>[]> {
    if (isWaitedFor) this.waiting++
    try {
      // What came while another update ran is looked at by the next one.
      while (this.running) await this.running.catch(() => undefined)
      this.running = this.run(maker).finally(() => {
        this.running = undefined
      })
      return await this.running
    } finally {
      if (isWaitedFor) this.waiting--
    }
  }

  private async run(maker: CaseMaker<Made>): Promise<IndexedCase<Made>[]> {
    const now = await this.store.casesMark()
    if (now === this.seen && maker.key === this.key) return this.sorted
    this.turn = performance.now()
    const changed =
      now === this.seen
        ? new Set<string>()
        : new Set([...(await this.readEntries()), ...(await this.readLives())])
    if (maker.key !== this.key) for (const { case: of } of this.entries.values()) changed.add(of)
    await this.makeCases(maker, changed)
    this.seen = now
    this.key = maker.key
    return this.sorted
  }

  private async breathe(): Promise<void> {
    if (performance.now() - this.turn < (this.waiting ? HURRIED_MS : QUIET_MS)) return
    await (this.waiting ? nextTurn() : whenIdle())
    this.turn = performance.now()
  }

  /**
   * Opens what is new, a page of entries at a time: all of them at once would fill the memory of a slow phone.
   * @returns the cases of which an entry came, went or got further
   */
  private async readEntries(): Promise<Set<string>> {
    const changed = new Set<string>()
    const there = new Set<string>()
    for (let page = await this.pageAfter(0); page.length;) {
      const toOpen = page.filter(row => !this.isKnown(row, changed))
      const opened = await Promise.all(toOpen.map(row => this.store.entries.opened(row)))
      for (const entry of opened) {
        this.entries.set(entry.id, entry)
        changed.add(entry.case)
      }
      for (const { id } of page) there.add(id as string)
      await this.breathe()
      page = await this.pageAfter(page.at(-1)!.seq as number)
    }
    for (const { id, case: of } of [...this.entries.values()])
      if (!there.has(id)) {
        this.entries.delete(id)
        changed.add(of)
      }
    return changed
  }

  private readonly pageAfter = (seq: number) =>
    this.store.entries.raw
      .where('seq')
      .above(seq)
      .limit(this.waiting ? HURRIED : QUIET)
      .toArray()

  /** Is an entry open already? It follows how far it got. @param changed gets its case where it got further */
  private isKnown({ id, state, receivedAt }: Record<string, unknown>, changed: Set<string>): boolean {
    const had = this.entries.get(id as string)
    // Why an entry was refused stands inside: that one is opened again.
    if (!had || state === 'refused') return false
    if (had.state !== state || had.receivedAt !== receivedAt) {
      const now = { state: state as StoredEntry['state'], receivedAt: receivedAt as string | undefined }
      this.entries.set(had.id, { ...had, ...now })
      changed.add(had.case)
    }
    return true
  }

  /** @returns the cases to which something happened since they were read; those that they were part of, too */
  private async readLives(): Promise<Set<string>> {
    const before = this.lives
    const now = await this.store.livesOfCases()
    const changed = new Set<string>()
    for (const id of new Set([...before.keys(), ...now.keys()])) {
      const [was, is] = [before.get(id), now.get(id)]
      if (same(was ?? null, is ?? null)) continue
      changed.add(id)
      if (was?.mergedInto) changed.add(this.rootOf(was.mergedInto))
    }
    this.lives = now
    return changed
  }

  /** The case that one is part of now: itself, where it was not merged. */
  private rootOf(id: string): string {
    if (!this.lives.get(id)?.mergedInto) return id
    const seen = new Set<string>()
    for (let at = id; ;) {
      const into = this.lives.get(at)?.mergedInto
      if (!into || seen.has(into)) return at
      seen.add(at)
      at = into
    }
  }

  private async makeCases(maker: CaseMaker<Made>, changed: ReadonlySet<string>): Promise<void> {
    const own = new Map<string, StoredEntry[]>(
      [...changed].flatMap(id => [
        [id, []],
        [this.rootOf(id), []],
      ]),
    )
    for (const entry of this.entries.values()) own.get(this.rootOf(entry.case))?.push(entry)
    for (const [id, all] of own) {
      const known = all.flatMap(entry => {
        const folded = maker.entryOf(entry)
        return folded ? [{ entry, folded: { ...folded, case: id } }] : []
      })
      const [file] = foldCases(known.map(({ folded }) => folded))
      const entries = known.map(({ entry }) => entry)
      if (file)
        this.cases.set(id, { file, entries, made: maker.make(file, entries, this.lives.get(id) ?? null) })
      else this.cases.delete(id)
      await this.breathe()
    }
    const lastOf = ({ file }: IndexedCase<Made>) => file.entries.at(-1)?.happenedAt ?? 0
    this.sorted = [...this.cases.values()].sort((one, other) => lastOf(other) - lastOf(one))
  }
}
