import { parseDay, printDay } from '#core/calendar/day'
import { MOST_UNITS } from '#core/contract/units'
import type { UnitFile, UnitFormat, UnitLine, UnitList, UnitQuery } from '#core/contract/units'
import { writeUnitsCsv } from '#core/exchange/units-csv'
import { writeUnitsFhir } from '#core/exchange/units-fhir'
import { writeUnitsGeoJson } from '#core/exchange/units-geojson'
import type { UnitHistory, UnitState } from '#core/geography/unit'
import { growTree, type UnitTree } from '#core/geography/unit-tree'
import type { Words } from '#core/report/edition'
import { must } from '#core/result'
import { mustHold, type Access } from '../access/access'
import { holds } from '../access/branch'
import { database } from '../database'
import { notFound } from '../refusal'
import { settings, today } from '../settings'
import { assigned } from './expected-units'
import { readTree } from './tree'

/** The day that is asked for, or today in the installation's time zone. */
async function dayAsked(text: string | undefined): Promise<number> {
  return text === undefined ? today() : must(parseDay(text))
}

/** A unit on a day; when it is closed then, as it was last before, or as it will be first. */
function shown(tree: UnitTree, { code, spans }: UnitHistory, day: number): UnitState & { open: boolean } {
  const open = tree.at(code, day)
  if (open) return { ...open, open: true }
  return { ...(spans.findLast(span => span.from <= day) ?? spans[0]!), code, open: false }
}

function lineOf(tree: UnitTree, history: UnitHistory, day: number): UnitLine {
  const { code, name, parent, level, kind, open } = shown(tree, history, day)
  return {
    code,
    name,
    parent,
    level,
    kind,
    latitude: history.position?.latitude ?? null,
    longitude: history.position?.longitude ?? null,
    open,
  }
}

/**
 * The tree of a branch with the units that the person may see, closed ones too. Units above the branch are
 * there to name its place.
 */
function ofBranch(tree: UnitTree, branch: string | null): UnitHistory[] {
  if (branch === null) return [...tree.units]
  const above = new Set(tree.history(branch)?.spans.flatMap(({ from }) => tree.path(branch, from)) ?? [])
  return tree.units.filter(
    ({ code, spans }) => above.has(code) || spans.some(({ from }) => tree.path(code, from).includes(branch)),
  )
}

/**
 * All units of the installation: a patient may live anywhere, and questions about places offer the whole
 * tree.
 */
export const listPlaces = (): Promise<UnitList> => listBranch(null, {})

/**
 * The units of a person's branch: all of them, as the pages show the tree; a program gets them in pages.
 * @throws Refusal 404 where the unit after which a page begins is not in the branch
 */
export const listUnits = (access: Access, asked: UnitQuery): Promise<UnitList> =>
  listBranch(access.branch, { ...(access.role === 'machine' && { most: MOST_UNITS }), ...asked })

/** Those after a unit, as many as are asked for. */
function pageOf<T extends { code: string }>(all: readonly T[], { after, most }: UnitQuery): T[] {
  const before = after === undefined ? -1 : all.findIndex(({ code }) => code === after)
  if (after !== undefined && before < 0) throw notFound('unit')
  return all.slice(before + 1, most === undefined ? undefined : before + 1 + most)
}

async function listBranch(branch: string | null, asked: UnitQuery): Promise<UnitList> {
  const on = await dayAsked(asked.day)
  const tree = await readTree(await database())
  const { levelNames, districtLevel, facilityLevel } = await settings()
  const all = ofBranch(tree, branch).filter(({ spans }) => spans.length)
  const page = pageOf(all, asked)
  return {
    day: printDay(on),
    levels: levelNames,
    districtLevel,
    facilityLevel,
    units: page.map(unit => lineOf(tree, unit, on)),
    more: page.length > 0 && page.at(-1) !== all.at(-1),
  }
}

export async function unitFile(access: Access, code: string): Promise<UnitFile> {
  const sql = await database()
  const tree = await readTree(sql)
  const history = tree.history(code)
  if (!history?.spans.length) throw notFound('unit')
  const today = await dayAsked(undefined)
  const day = tree.at(code, today) ? today : shown(tree, history, today).from
  mustHold(access, tree.path(code, day))
  const named = (unit: string, on: number) => ({ code: unit, name: tree.at(unit, on)?.name ?? unit })
  const [counted] = await sql.query<{ reports: number }>(
    'SELECT count(*) AS reports FROM report WHERE unit = $1',
    [code],
  )
  const datasets = await sql.query<{ name: Words }>(
    `SELECT DISTINCT d.name FROM assignment a JOIN dataset d ON d.code = a.dataset JOIN unit_latest u ON u.code = $1
     WHERE ${assigned('u', '$2', '$2')}`,
    [code, printDay(today)],
  )
  const changes = await sql.query<UnitFile['changes'][number]>(
    `SELECT c.at, p.display_name AS by, c.source, c.undone_at IS NOT NULL AS undone FROM unit_change c JOIN person p ON p.id = c.person
     WHERE jsonb_exists(c.after, $1) ORDER BY c.seq DESC LIMIT 20`,
    [code],
  )
  return {
    unit: lineOf(tree, history, today),
    path: tree.path(code, day).map(unit => named(unit, day)),
    spans: history.spans.map(({ from, to, name, parent, kind, level }) => ({
      from: printDay(from),
      to: to === null ? null : printDay(to),
      name,
      parent: parent === null ? null : named(parent, from),
      kind,
      level,
    })),
    datasets: datasets.map(({ name }) => name),
    reports: counted!.reports,
    changes,
  }
}

const MEDIA: Record<UnitFormat, { type: string; ending: string }> = {
  csv: { type: 'text/csv; charset=utf-8', ending: 'csv' },
  geojson: { type: 'application/geo+json', ending: 'geojson' },
  fhir: { type: 'application/fhir+json', ending: 'fhir.json' },
}

/**
 * The units of a day as a file. A branch goes out with the units above it, so that it can come in elsewhere.
 */
export async function exportUnits(
  access: Access,
  format: UnitFormat,
  day: string | undefined,
): Promise<{ text: string; type: string; name: string }> {
  const on = await dayAsked(day)
  const whole = await readTree(await database())
  const tree =
    access.branch === null
      ? whole
      : must(
          growTree(
            ofBranch(whole, access.branch).map(unit => ({
              ...unit,
              spans: unit.spans.filter(
                ({ from }) =>
                  holds(access.branch, whole.path(unit.code, from)) ||
                  whole.path(access.branch!, on).includes(unit.code),
              ),
            })),
          ),
        )
  const text =
    format === 'csv'
      ? writeUnitsCsv(tree, on)
      : JSON.stringify(format === 'geojson' ? writeUnitsGeoJson(tree, on) : writeUnitsFhir(tree, on), null, 1)
  return { text, type: MEDIA[format].type, name: `units-${printDay(on)}.${MEDIA[format].ending}` }
}
