import { createHash } from 'node:crypto'
import { v7 as uuid } from 'uuid'
import type { EntryMade } from '#core/contract/desk'
import type { Access } from '../../server/access/access'
import { applyEntries } from '../../server/cases/apply-entries'
import { database, type Sql } from '../../server/database'

/** The identifier of a case of the province by its number (demo/large/cases.ts). */
export function caseOf(number: number): string {
  const hex = createHash('md5').update(`case ${number}`).digest('hex')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5')
}

class Undone extends Error {}

/** Does work in a transaction that is taken back: the next time finds what this one found. */
export async function undone(work: (tx: Sql) => Promise<unknown>): Promise<void> {
  const sql = await database()
  await sql
    .transaction(async tx => {
      await work(tx)
      throw new Undone()
    })
    .catch((error: unknown) => {
      if (!(error instanceof Undone)) throw error
    })
}

const ANSWERS = {
  mother_name: { kind: 'value', value: 'Mireth Quirow' },
  baby_sex: { kind: 'value', value: 'f' },
  baby_born_on: { kind: 'value', value: '2026-10-20' },
  birth_weight: { kind: 'value', value: 3100 },
} as const

/** The registration of one newborn, as a telephone of the clerk's facility sends it. */
export async function arrive(tx: Sql, clerk: Access): Promise<void> {
  const entry: EntryMade = {
    kind: 'entry',
    id: uuid(),
    madeAt: '2026-11-09T10:00:00Z',
    case: uuid(),
    register: 'newborns',
    edition: 1,
    form: 'birth',
    unit: clerk.branch!,
    answers: ANSWERS,
  }
  const [outcome] = await applyEntries(tx, clerk, [entry], at => at, { device: null }, 'UTC')
  if (outcome?.outcome !== 'received')
    throw new Error(`The case was not received: ${JSON.stringify(outcome)}`)
}

/** So many keys lead from a newborn to those who may be the same. */
const BLOCKS = 6

/** The same rows, written and nothing else. */
export async function arrivePlainly(tx: Sql): Promise<void> {
  const id = uuid()
  await tx.query(`INSERT INTO case_record (id, register, unit) VALUES ($1, 'newborns', 'd01_z1_f01')`, [id])
  await tx.query(
    `INSERT INTO case_entry (id, case_id, edition, form, answers, happened_on, made_at, received_at, person)
     SELECT $1, $2, 1, 'birth', $3, '2026-10-20', now(), now(), id FROM person LIMIT 1`,
    [uuid(), id, ANSWERS],
  )
  await tx.query('UPDATE case_record SET known = $2, entries = 1 WHERE id = $1', [id, ANSWERS])
  await tx.query(
    `INSERT INTO case_block (register, key, case_id) SELECT 'newborns', 'bench ' || n, $1 FROM generate_series(1, $2::int) AS n`,
    [id, BLOCKS],
  )
  await tx.query(
    `INSERT INTO changed_thing (at, kind, of, key, unit) VALUES (now(), 'case', 'newborns', $1, 'd01_z1_f01')`,
    [id],
  )
}
