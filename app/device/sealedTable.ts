import type { Table } from 'dexie'
import { open, seal, type Sealed } from '#core/protect/seal'

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
