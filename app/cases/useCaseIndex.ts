import { foldCases, type CaseFile } from '#core/cases/fold'
import { nextTurn, whenIdle } from '../common/whenIdle'
import type { EntryReader } from '../device/entryReader'
import type { StoredEntry, StoredLife, WorkStore } from '../device/useDeskStore'
import { same } from '#core/same'

/** What was made of one case for the list, and when its last event happened. */
interface IndexedCase<Made> {
  lastAt: number
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
/** So many entries come at once: in the background, and when they are waited for. */
const QUIET = 40
const HURRIED = 400

/**
 * The cases of one person on this device. Entries are opened once, in another thread, and a case is folded and
 * made again only when one of its entries changed. They can be prepared in the background; a page that waits
 * for them makes it go faster.
 */
export class CaseIndex<Made> {
  private readonly entries = new Map<string, StoredEntry>()
  private readonly cases = new Map<string, IndexedCase<Made>>()
  /** Cases to which something happened: moved, closed, merged. */
  private lives: ReadonlyMap<string, StoredLife> = new Map()
  private reader: EntryReader | undefined
  /** The cases to make anew: they stay noted when that breaks off. */
  private changed = new Set<string>()
  /** As the pages show them: going through 20,000 cases once more takes a slow phone a quarter of a second. */
  private sorted: Made[] = []
  private seen = ''
  private key = ''
  private running: Promise<Made[]> | undefined
  /** How many wait for the list. */
  private waiting = 0
  private turn = 0

  constructor(private readonly store: WorkStore) {}

  /**
   * What is made of all cases as they are stored now, the latest event first. The same list when nothing
   * changed.
   * @param isWaitedFor false prepares them in the background
   */
  async update(maker: CaseMaker<Made>, isWaitedFor: boolean): Promise<Made[]> {
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

  private async run(maker: CaseMaker<Made>): Promise<Made[]> {
    const now = await this.store.casesMark()
    if (now === this.seen && maker.key === this.key) return this.sorted
    this.turn = performance.now()
    if (now !== this.seen) {
      await this.readEntries()
      await this.readLives()
    }
    if (maker.key !== this.key) for (const { case: of } of this.entries.values()) this.changed.add(of)
    await this.makeCases(maker, this.changed)
    this.changed = new Set()
    this.seen = now
    this.key = maker.key
    return this.sorted
  }

  private async breathe(): Promise<void> {
    if (performance.now() - this.turn < (this.waiting ? HURRIED_MS : QUIET_MS)) return
    await (this.waiting ? nextTurn() : whenIdle())
    this.turn = performance.now()
  }

  /** Takes over what is new among the entries, and notes the cases of which one came, went or got further. */
  private async readEntries(): Promise<void> {
    const reader = (this.reader ??= this.store.entryReader())
    const ask = () => reader.next(this.waiting ? HURRIED : QUIET)
    try {
      for (let coming = ask(); ;) {
        const { opened, gone, isLast } = await coming
        // The next part is opened while this one is taken over.
        if (!isLast) coming = ask()
        for (const entry of opened) {
          this.entries.set(entry.id, entry)
          this.changed.add(entry.case)
        }
        for (const id of gone) {
          this.changed.add(this.entries.get(id)!.case)
          this.entries.delete(id)
        }
        if (isLast) return
        await this.breathe()
      }
    } catch (error) {
      // Another reader tells everything anew.
      this.reader = undefined
      this.seen = ''
      for (const { case: of } of this.entries.values()) this.changed.add(of)
      this.entries.clear()
      throw error
    }
  }

  /** Notes the cases to which something happened since they were read; those that they were part of, too. */
  private async readLives(): Promise<void> {
    const before = this.lives
    const now = await this.store.livesOfCases()
    for (const id of new Set([...before.keys(), ...now.keys()])) {
      const [was, is] = [before.get(id), now.get(id)]
      if (same(was ?? null, is ?? null)) continue
      this.changed.add(id)
      if (was?.mergedInto) this.changed.add(this.rootOf(was.mergedInto))
    }
    this.lives = now
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
        this.cases.set(id, {
          lastAt: file.entries.at(-1)?.happenedAt ?? 0,
          made: maker.make(file, entries, this.lives.get(id) ?? null),
        })
      else this.cases.delete(id)
      await this.breathe()
    }
    this.sorted = [...this.cases.values()]
      .sort((one, other) => other.lastAt - one.lastAt)
      .map(({ made }) => made)
  }
}
