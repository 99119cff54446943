import { printDay } from '#core/calendar/day'
import type { CaseRegister } from '#core/cases/register'
import { dayIn, type Answers } from '#core/form/answer'
import { groupBy } from '#core/group-by'
import { same } from '#core/same'
import { noteCases } from '../changes/note'
import { database, type Sql } from '../database'
import { judgeCounting, type CountingChange } from '../doubts/judge-counting'
import { UNWATCHED, type JobTurn } from '../queue/turn'
import { foldKnown, rootsOf, type FoldedCase } from './fold-known'
import { closeDoubtsOf, judgeCases, type SaidOfDoubts } from './judge-cases'
import { lockCases } from './lock-cases'
import { matchCases } from './match'
import { newestRegisters } from './registers'
import { KNOWN_TABLE, knownColumns, type BegunCase } from './write-cases'

const byCode = ([one]: [string, unknown], [other]: [string, unknown]) => (one < other ? -1 : 1)

/** What is at hand where entries have just come. */
export interface WithEntries {
  /** What came along about doubts. */
  said?: SaidOfDoubts
  /** Cases that were written with what is known of them a moment ago: only what follows is done. */
  begun?: readonly BegunCase[]
  /** The newest definitions, where they were read already. */
  registers?: ReadonlyMap<string, CaseRegister>
}

/**
 * Writes what is known of some cases from their entries, compares them with those that they may be, and judges
 * the rules of their registers. A merged one stands with the case that it is part of. The rows are locked
 * first: of two devices that send entries of one case, the second one folds what the first one sent, too. With
 * {@link writeCases} the only writer of what is in {@link KnownOfCase}. The caller is alone with the facilities
 * ({@link lockCases}): devices hear of the doubts.
 */
export async function writeKnown(
  sql: Sql,
  ids: readonly string[],
  { said, begun = [], registers: read }: WithEntries = {},
): Promise<void> {
  if (!ids.length && !begun.length) return
  const registers = read ?? (await newestRegisters(sql))
  const { before, folded }: FoldedAnew = ids.length
    ? await foldAnew(sql, ids, registers)
    : { before: [], folded: [] }
  for (const { folded: one, unit } of begun) {
    before.push({ id: one.kept.id, register: one.register, unit, known: {}, toFold: false })
    folded.push(one)
  }
  await noteCases(
    sql,
    before.map(({ id }) => id),
  )
  // In one order for everybody: the blocks of two registers are locked one after the other.
  for (const [code, own] of [...groupBy(folded, ({ register }) => register)].sort(byCode)) {
    const register = registers.get(code)
    if (register)
      await matchCases(
        sql,
        register,
        own.filter(({ isForgotten }) => !isForgotten).map(one => one.kept),
      )
  }
  await judgeCases(sql, folded, registers, said)
  await judgeCounting(sql, countingChanges(before, folded, registers))
}

/** Cases as they were, and as they were folded anew. */
interface FoldedAnew {
  before: CaseBefore[]
  folded: FoldedCase[]
}

/** Locks some cases and those that they are part of, and writes what is known of these. */
async function foldAnew(
  sql: Sql,
  ids: readonly string[],
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<FoldedAnew> {
  const roots = await rootsOf(sql, ids)
  const [before, folded] = await Promise.all([
    sql.query<CaseBefore>(
      `SELECT id, register, unit, known, to_fold AS "toFold" FROM case_record
       WHERE id = ANY($1::uuid[]) ORDER BY id FOR UPDATE`,
      [[...new Set([...ids, ...roots])]],
    ),
    // Asked behind the lock, and read once it is held.
    foldKnown(sql, roots, registers),
  ])
  await sql.query(
    `UPDATE case_record c SET known = g.known, entries = g.entries, last_on = g.last_on, received_at = g.received_at, next_visit = g.next_visit,
       result_awaited = g.result_awaited, search_text = g.search_text, to_fold = false
     FROM ${KNOWN_TABLE} WHERE c.id = g.id`,
    knownColumns(folded),
  )
  const merged = ids.filter(id => !roots.includes(id))
  if (merged.length) {
    await sql.query('UPDATE case_record SET to_fold = false WHERE id = ANY($1::uuid[])', [merged])
    await closeDoubtsOf(sql, merged)
  }
  return { before, folded }
}

/** A case as it was before it was folded anew. */
interface CaseBefore {
  id: string
  register: string
  unit: string
  known: Answers
  toFold: boolean
}

/** Where cases count otherwise than before: on the days by which they counted, and by which they count now. */
function countingChanges(
  before: readonly CaseBefore[],
  folded: readonly FoldedCase[],
  registers: ReadonlyMap<string, CaseRegister>,
): CountingChange[] {
  const now = new Map(folded.map(({ kept }) => [kept.id, kept.known]))
  return before.flatMap(({ id, register, unit, known, toFold }) => {
    const code = registers.get(register)?.countingDate
    const after = now.get(id)
    // After an update of the application all are folded: only those that say something else matter.
    if (code === undefined || (toFold && same(known, after ?? known))) return []
    const days = [known, after ?? {}].flatMap(answers => {
      const day = dayIn(answers[code])
      return day === null ? [] : [printDay(day)]
    })
    return [...new Set(days)].map(day => ({ register, unit, day }))
  })
}

/** So many cases are folded in one transaction: nobody waits long for them. */
const AT_ONCE = 500

/** Is there a case that has to be folded anew? */
export async function areCasesToFold(): Promise<boolean> {
  const sql = await database()
  const [row] = await sql.query<{ any: boolean }>(
    'SELECT EXISTS (SELECT 1 FROM case_record WHERE to_fold) AS any',
  )
  return row!.any
}

/**
 * Folds all cases that have to be: after an update of the application, or of what a register follows.
 * @param atOnce more where nobody else is at work: what cases are compared with is then read once for more of them
 */
export async function foldWaitingCases(
  { signal, progress }: JobTurn = UNWATCHED,
  atOnce = AT_ONCE,
): Promise<number> {
  const sql = await database()
  let done = 0
  for (;;) {
    signal.throwIfAborted()
    const waiting = await sql.query<{ id: string }>(
      'SELECT id FROM case_record WHERE to_fold ORDER BY id LIMIT $1',
      [atOnce],
    )
    const ids = waiting.map(({ id }) => id)
    if (ids.length)
      await sql.transaction(async tx => {
        // Alone with the facilities first, then with the rows: everybody takes them in this order.
        await lockCases(tx, ids)
        await writeKnown(tx, ids)
      })
    done += ids.length
    progress(done)
    if (!ids.length) return done
  }
}
