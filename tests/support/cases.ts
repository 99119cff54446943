import { v7 as uuid } from 'uuid'
import { expect } from 'vitest'
import type { CaseRegister } from '#core/cases/register'
import type { EntryMade } from '#core/contract/desk'
import type { Answers, AnswerValue } from '#core/form/answer'
import { applyEntries } from '../../server/cases/apply-entries'
import type { Database, Sql } from '../../server/database'
import { personOf } from './installation'

export type Values = Readonly<Record<string, AnswerValue>>

/** Answers of a form, each with its value. */
export const filled = (values: Values): Answers =>
  Object.fromEntries(Object.entries(values).map(([key, value]) => [key, { kind: 'value', value }]))

/** Publishes an edition of a register, as it is. */
export async function addRegister(
  sql: Pick<Sql, 'query'>,
  register: CaseRegister,
  number = 1,
): Promise<void> {
  await sql.query('INSERT INTO case_register (code, name) VALUES ($1, $2) ON CONFLICT (code) DO NOTHING', [
    register.code,
    register.name,
  ])
  await sql.query(
    'INSERT INTO register_edition (register, number, definition, published_at) VALUES ($1, $2, $3, $4)',
    [register.code, number, register, '2026-01-01T00:00:00Z'],
  )
}

/** A filled form of a measles case: its registration at Elm, unless it says otherwise. */
export const entryMade = (of: string, values: Values, more: Partial<EntryMade> = {}): EntryMade => ({
  kind: 'entry',
  id: uuid(),
  madeAt: '2026-11-01T08:00:00Z',
  register: 'measles_cases',
  edition: 1,
  form: 'registration',
  unit: 'elm',
  case: of,
  answers: filled(values),
  ...more,
})

/** Keeps entries as if an administrator had sent them; each must be received. */
export async function takeEntries(sql: Database, entries: readonly EntryMade[]): Promise<void> {
  const outcomes = await sql.transaction(tx =>
    applyEntries(tx, personOf('administrator', null), entries, madeAt => madeAt, { device: null }, 'UTC'),
  )
  expect(outcomes.map(one => (one.outcome === 'refused' ? one.message : one.outcome))).toEqual(
    entries.map(() => 'received'),
  )
}
