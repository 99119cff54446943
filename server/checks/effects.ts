import { shifts, type DistrictFigures } from '#core/rollup/effect'
import type { Cure } from '#core/rollup/cures'
import { groupBy } from '#core/group-by'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import { database, type Sql } from '../database'
import { lockFigures } from '../database/locks'
import { UNWATCHED, type JobTurn } from '../queue/turn'
import { figuresForEffects } from '../reports/district-figures'
import { roundById } from '../rounds/round'
import { districtOf, settings, type Settings } from '../settings'

/** Figures as they are stored. */
type StoredFigures = { [Part in keyof DistrictFigures]: [string, { value: number; reportsIn: number }][] }

/** A district in a round. */
interface RoundOfDistrict {
  round: string
  district: string
}

/** How many districts are looked up at once. */
const AT_ONCE = 50

/**
 * The districts whose figures changed since they were computed: those in a branch, and the one that the branch
 * lies in.
 */
async function changedDistricts(
  sql: Pick<Sql, 'query'>,
  branch: string | null,
  known: Settings | undefined,
): Promise<RoundOfDistrict[]> {
  const [all, [unit]] = await Promise.all([
    known ?? settings(sql),
    branch
      ? sql.query<{ path: string[] }>('SELECT path FROM unit_latest WHERE code = $1', [branch])
      : ([] as { path: string[] }[]),
  ])
  // A facility's effects are measured on its district.
  const within = unit && unit.path.length > all.districtLevel ? districtOf(unit.path, all) : branch
  return sql.query<RoundOfDistrict>(
    `SELECT DISTINCT round, coalesce(path[$1::int], path[cardinality(path)]) AS district FROM figures_to_refresh
     WHERE path @> $2::text[] LIMIT ${AT_ONCE}`,
    [all.districtLevel, within === null ? [] : [within]],
  )
}

/** The effect of a discrepancy on its district; null when its doubt is gone, or no figure would move. */
export const effectOf = (
  { holds, cures }: { holds: boolean; cures: Cure[] | null },
  { cellByKey }: Pick<ReadyEdition, 'cellByKey'>,
  figures: DistrictFigures,
): number | null => (holds ? (shifts(cures ?? [], cellByKey, figures)[0]?.share ?? null) : null)

/** Computes the figures of a district in a round anew, and the effect of each of its discrepancies. */
async function refreshDistrict(sql: Sql, { round: id, district }: RoundOfDistrict): Promise<void> {
  await lockFigures(sql, `${id} ${district}`)
  // What is added meanwhile is not among these: it stays, and the district is computed once more.
  const noted = await sql.query<{ seq: number }>(
    'SELECT seq FROM figures_to_refresh WHERE round = $1 AND path @> $2::text[]',
    [id, [district]],
  )
  if (!noted.length) return
  const round = await roundById(sql, id)
  const rows = await sql.query<{ id: string; edition: number; holds: boolean; cures: Cure[] | null }>(
    `SELECT d.id, p.edition, d.holds, d.evidence -> 'cures' AS cures FROM discrepancy d JOIN report p ON p.id = d.report
     WHERE p.round = $1 AND p.path @> $2::text[]`,
    [id, [district]],
  )
  const effects: (number | null)[] = []
  const ids: string[] = []
  await sql.query('DELETE FROM district_figure WHERE round = $1 AND district = $2', [id, district])
  for (const [edition, ofEdition] of groupBy(rows, row => row.edition)) {
    const ready = await editionOf(sql, round.dataset, edition)
    const figures = await figuresForEffects(sql, round, district, ready)
    const stored: StoredFigures = { items: [...figures.items], cells: [...figures.cells] }
    await sql.query(
      'INSERT INTO district_figure (round, district, edition, figures) VALUES ($1, $2, $3, $4)',
      [id, district, edition, stored],
    )
    for (const { id: discrepancy, holds, cures } of ofEdition) {
      ids.push(discrepancy)
      effects.push(effectOf({ holds, cures }, ready, figures))
    }
  }
  await sql.query(
    `INSERT INTO discrepancy_effect AS e (discrepancy, effect) SELECT * FROM unnest($1::uuid[], $2::float8[])
     ON CONFLICT (discrepancy) DO UPDATE SET effect = EXCLUDED.effect WHERE e.effect IS DISTINCT FROM EXCLUDED.effect`,
    [ids, effects],
  )
  await sql.query('DELETE FROM figures_to_refresh WHERE seq = ANY($1::bigint[])', [
    noted.map(({ seq }) => seq),
  ])
}

/**
 * Brings the effects of discrepancies up to date: asked for before they are shown, so that they are always
 * those of the figures as they stand, and from time to time, so that there is little left to do then.
 * Each district in a transaction of its own.
 * @param branch a branch of the tree; null is all of it
 * @param known the settings, where the caller has read them
 * @returns how many districts of a round were computed
 */
export async function refreshEffects(
  branch: string | null,
  { signal, progress }: JobTurn = UNWATCHED,
  known?: Settings,
): Promise<number> {
  const sql = await database()
  for (let done = 0; ;) {
    const changed = await changedDistricts(sql, branch, known)
    for (const one of changed) {
      signal.throwIfAborted()
      await sql.transaction(tx => refreshDistrict(tx, one))
      progress(++done)
    }
    if (changed.length < AT_ONCE) return done
  }
}

/** Is there an effect to bring up to date? */
export async function areEffectsOld(): Promise<boolean> {
  const sql = await database()
  return (await sql.query('SELECT 1 FROM figures_to_refresh LIMIT 1')).length > 0
}

/** What figures are kept of: a district in a round, for the effects of reports of an edition. */
export interface FiguresOf extends RoundOfDistrict {
  edition: number
}

/** The figures that were computed last, of several. */
export async function keptFigures(
  sql: Pick<Sql, 'query'>,
  wanted: readonly FiguresOf[],
): Promise<(of: FiguresOf) => DistrictFigures> {
  const keyOf = ({ round, district, edition }: FiguresOf) => `${round} ${district} ${edition}`
  const rows = await sql.query<FiguresOf & { figures: StoredFigures }>(
    `SELECT DISTINCT f.round, f.district, f.edition, f.figures
     FROM unnest($1::text[], $2::text[], $3::int[]) AS w (round, district, edition)
       JOIN district_figure f ON f.round = w.round AND f.district = w.district AND f.edition = w.edition`,
    [
      wanted.map(({ round }) => round),
      wanted.map(({ district }) => district),
      wanted.map(({ edition }) => edition),
    ],
  )
  const figures = new Map(
    rows.map(row => [keyOf(row), { items: new Map(row.figures.items), cells: new Map(row.figures.cells) }]),
  )
  return of => figures.get(keyOf(of)) ?? { items: new Map(), cells: new Map() }
}
