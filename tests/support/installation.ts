import { registersCounted } from '#core/reconcile/count-figures'
import type { Edition } from '#core/report/edition'
import type { Role } from '#core/contract/permission'
import type { Access } from '../../server/access/access'
import { database, type Database, type Sql } from '../../server/database'
import { personSearchText } from '../../server/people/search-text'
import { openRoundsAt } from '../../server/rounds/open-rounds'
import { settings } from '../../server/settings'
import { writeLatest } from '../../server/units/latest'

/**
 * A small installation in memory for the tests of the use-cases: one region, two districts, four facilities.
 */
export const NOW = '2026-11-05T12:00:00Z'
export const OCTOBER = 'small~2026-10'

const words = (en: string) => ({ en, fr: en })
const item = (code: string, axes: string[] = []) => ({
  code,
  name: words(code),
  definition: words(code),
  unitOfMeasure: 'count',
  kind: 'wholeNumber' as const,
  rollUp: 'sum' as const,
  range: null,
  axes,
})
const rule = (code: string, expression: string, strength: 'mustFix' | 'explain') => ({
  code,
  name: words(code),
  expression,
  strength,
  blanks: 'notJudged' as const,
  forClerk: words(code),
  forOfficer: words(code),
})

export const SMALL: Edition = {
  dataset: 'small',
  number: 1,
  name: words('Small'),
  frequency: 'month',
  timing: { opensAhead: 0, dueDays: 7, closeDays: 10 },
  axes: [
    {
      code: 'sex',
      name: words('Sex'),
      bands: [
        { code: 'f', name: words('female') },
        { code: 'm', name: words('male') },
      ],
    },
  ],
  sections: [
    { code: 'all', name: words('All'), items: [item('tested'), item('positive'), item('seen', ['sex'])] },
  ],
  rules: [rule('within', 'positive <= tested', 'mustFix'), rule('many', 'seen < 100', 'explain')],
  indicators: [],
}

const UNITS: [code: string, parent: string | null, level: number][] = [
  ['coast', null, 1],
  ['north', 'coast', 2],
  ['south', 'coast', 2],
  ['quay', 'north', 3],
  ['mill', 'south', 3],
  ['elm', 'quay', 4],
  ['oak', 'quay', 4],
  ['ash', 'mill', 4],
  ['yew', 'mill', 4],
]

/** The spans of units that were not always where, or open as, they are. */
export interface Moves {
  [unit: string]: { from: string; to: string | null; parent: string }[]
}

const PERSON = '00000000-0000-7000-8000-00000000000'

/** A person of the installation, as a request would bring them. */
export const personOf = (role: Role, branch: string | null): Access => ({
  id: `${PERSON}${{ administrator: 1, officer: 2, clerk: 3, reader: 4 }[role]}`,
  userName: role,
  displayName: `The ${role}`,
  role,
  branch,
  ownOnly: false,
  without: [],
  sharing: null,
})

/** A dataset as its first edition, for all facilities from a day on, with its rounds up to {@link NOW}. */
export async function addDataset(tx: Sql, edition: Edition, from: string): Promise<void> {
  const { dataset, name, frequency } = edition
  await tx.query('INSERT INTO dataset (code, name, frequency) VALUES ($1, $2, $3)', [
    dataset,
    name,
    frequency,
  ])
  await tx.query(
    'INSERT INTO edition (dataset, number, definition, published_at, counts) VALUES ($1, 1, $2, $3, $4)',
    [dataset, edition, '2026-01-01T00:00:00Z', registersCounted(edition)],
  )
  await tx.query('INSERT INTO assignment (dataset, branch, level, from_day) VALUES ($1, $2, 4, $3)', [
    dataset,
    'coast',
    from,
  ])
  await openRoundsAt(tx, Date.parse(NOW), await settings(tx))
}

/** Makes the installation in the database that `LANTERN_DATA=memory:` opens. */
export async function makeInstallation(moves: Moves = {}): Promise<Database> {
  const sql = await database()
  await sql.transaction(async tx => {
    const paths = new Map<string, string[]>()
    for (const [code, parent] of UNITS) {
      await tx.query('INSERT INTO unit (code) VALUES ($1)', [code])
      paths.set(code, [...(parent ? paths.get(parent)! : []), code])
    }
    for (const [code, parent, level] of UNITS) {
      for (const span of moves[code] ?? [{ from: '2020-01-01', to: null, parent }]) {
        const path = [...(span.parent ? paths.get(span.parent)! : []), code]
        await tx.query(
          'INSERT INTO unit_span (unit, from_day, to_day, parent, name, level, kind, path) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)',
          [code, span.from, span.to, span.parent, code, level, 'place', path],
        )
      }
    }
    await writeLatest(
      tx,
      UNITS.map(([code]) => code),
    )
    for (const role of ['administrator', 'officer', 'clerk', 'reader'] as const) {
      const { id } = personOf(role, null)
      await tx.query(
        'INSERT INTO person (id, user_name, user_key, display_name, role, password_hash, search_text) VALUES ($1, $2, $2, $3, $2, $4, $5)',
        [id, role, `The ${role}`, 'none', personSearchText({ displayName: `The ${role}`, userName: role })],
      )
    }
    await addDataset(tx, SMALL, '2026-06-01')
  })
  return sql
}
