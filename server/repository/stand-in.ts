import { setTimeout } from 'node:timers/promises'
import { STAND_IN_WAYS } from '#core/contract/sending'
import { isTypedNumber } from '#core/report/asked'
import { itemsOf, type Edition, type Item } from '#core/report/edition'
import { documentText, type DocumentGroup, type DocumentValue } from '#core/exchange/value-document'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { newestEdition } from '../recipients/code-book'
import { NotDelivered } from './not-delivered'
import { readDelivery } from './read-body'
import type { Answer, Delivery, FileAnswer, RefusedPlace, Repository } from './repository'
import { readEntryFile } from './take-entries'

/** No facility reports more than this of anything, says the stand-in. */
const MOST = 50_000
const SLOW_MS = 3_000
/** Longer than anybody waits for an answer. */
const FOR_EVER_MS = 24 * 3_600_000

/** The stand-in knows our own codes, in capitals or not. */
const key = (code: string) => code.toLowerCase()

/** What the stand-in knows of a dataset. */
interface Known {
  units: ReadonlySet<string>
  items: ReadonlyMap<string, Item>
  axes: ReadonlyMap<string, ReadonlySet<string>>
}

async function knownOf(sql: Sql, dataSet: string): Promise<Known | null> {
  const [dataset] = await sql.query<{ code: string }>('SELECT code FROM dataset WHERE lower(code) = $1', [
    key(dataSet),
  ])
  if (!dataset) return null
  const edition: Edition = await newestEdition(sql, dataset.code)
  const units = await sql.query<{ code: string }>('SELECT lower(code) AS code FROM unit_latest')
  return {
    units: new Set(units.map(({ code }) => code)),
    items: new Map(itemsOf(edition).map(item => [key(item.code), item])),
    axes: new Map(
      edition.axes.map(({ code, bands }) => [key(code), new Set(bands.map(band => key(band.code)))]),
    ),
  }
}

/** What is wrong with a value, if anything. */
function wrongWith(
  { units, items, axes }: Known,
  { orgUnit }: DocumentGroup,
  { dataElement, axes: own, value }: DocumentValue,
): Pick<RefusedPlace, 'about' | 'message'> | null {
  const unknown = (what: string, code: string) => ({
    about: 'code' as const,
    message: `${what} ${code} is not known here.`,
  })
  const item = items.get(key(dataElement))
  if (!units.has(key(orgUnit))) return unknown('The unit', orgUnit)
  if (!item) return unknown('The data element', dataElement)
  for (const [axis, band] of Object.entries(own))
    if (!axes.get(key(axis))?.has(key(band))) return unknown('The category', `${axis}=${band}`)
  if (!isTypedNumber(item.kind) && item.kind !== 'computed') return null
  const number = Number(documentText(value))
  if (Number.isNaN(number)) return { about: 'value', message: 'This is not a number.' }
  return number < 0 || number > MOST
    ? { about: 'value', message: `Values from 0 to ${MOST} are taken.` }
    : null
}

/** Takes what can be taken of a delivery, and keeps it. */
async function take(sql: Sql, { reference, mediaType, body, isWhole }: Delivery): Promise<Answer> {
  const refusedWhole = (problem: string): Answer => ({ receipt: null, refused: [], problem })
  const read = await readDelivery(mediaType, body)
  if (!read.ok) return refusedWhole(read.problems[0]!.message)
  const refused: RefusedPlace[] = []
  const rows: { group: DocumentGroup; value: DocumentValue }[] = []
  for (const group of read.value.groups) {
    const known = await knownOf(sql, group.dataSet)
    if (!known) return refusedWhole(`The dataset ${group.dataSet} is not known here.`)
    for (const value of group.values) {
      const wrong = wrongWith(known, group, value)
      if (wrong)
        refused.push({
          ...{ orgUnit: group.orgUnit, dataElement: value.dataElement, axes: value.axes },
          ...wrong,
        })
      else rows.push({ group, value })
    }
    if (isWhole)
      await sql.query('DELETE FROM stand_in_value WHERE data_set = $1 AND period = $2 AND org_unit = $3', [
        ...[group.dataSet, group.period, group.orgUnit],
      ])
  }
  await sql.query(
    `INSERT INTO stand_in_value (data_set, period, org_unit, data_element, axes, value, reference)
     SELECT v.*, $7 FROM unnest($1::text[], $2::text[], $3::text[], $4::text[], $5::text[], $6::text[]) AS v
     ON CONFLICT (data_set, period, org_unit, data_element, axes) DO UPDATE SET value = EXCLUDED.value, reference = EXCLUDED.reference`,
    [
      rows.map(({ group }) => group.dataSet),
      rows.map(({ group }) => group.period),
      rows.map(({ group }) => group.orgUnit),
      rows.map(({ value }) => value.dataElement),
      rows.map(({ value }) => JSON.stringify(Object.entries(value.axes).sort())),
      rows.map(({ value }) => documentText(value.value)),
      reference,
    ],
  )
  return { receipt: `R-${reference.slice(-8)}`, refused, problem: null }
}

async function said<Said extends Answer | FileAnswer>(
  sql: Pick<Sql, 'query'>,
  reference: string,
): Promise<Said | null> {
  const [row] = await sql.query<{ answer: Said }>(
    'SELECT answer FROM stand_in_delivery WHERE reference = $1',
    [reference],
  )
  return row?.answer ?? null
}

/**
 * A national repository that ships with the application: it checks codes and values, answers value by value, and
 * keeps what it got. For the demo, for tests, and for trying out a mapping.
 *
 * @param way `slow` answers after three seconds, `down` not at all, `half` takes what it gets and breaks off in its
 *   answer, `hangs` never answers
 */
export function standInRepository(way: string): Repository {
  const misbehave = async (signal: AbortSignal) => {
    const known = STAND_IN_WAYS.find(one => one === way)
    if (known === 'down') throw new NotDelivered('status', 503)
    if (known === 'slow') await setTimeout(SLOW_MS, undefined, { signal, ref: false })
    if (known === 'hangs') await setTimeout(FOR_EVER_MS, undefined, { signal, ref: false })
  }
  /** Takes a delivery once, whatever it is, and keeps what it said of it. */
  async function once<Said extends Answer | FileAnswer>(
    reference: string,
    signal: AbortSignal,
    take: (tx: Sql) => Promise<Said>,
  ): Promise<Said> {
    await misbehave(signal)
    const sql = await database()
    const answer = await sql.transaction(async tx => {
      const before = await said<Said>(tx, reference)
      if (before) return before
      const now = await take(tx)
      await tx.query('INSERT INTO stand_in_delivery (reference, at, answer) VALUES ($1, $2, $3)', [
        reference,
        nowText(),
        now,
      ])
      return now
    })
    if (way === 'half') throw new NotDelivered('broke-off')
    return answer
  }
  async function known<Said extends Answer | FileAnswer>(
    reference: string,
    signal: AbortSignal,
  ): Promise<Said | null> {
    await misbehave(signal)
    return said<Said>(await database(), reference)
  }
  return {
    deliver: (delivery, signal) => once(delivery.reference, signal, tx => take(tx, delivery)),
    lookUp: (reference, signal) => known<Answer>(reference, signal),
    deliverFile: async (file, signal) => once(file.reference, signal, await readEntryFile(file)),
    lookUpFile: (reference, signal) => known<FileAnswer>(reference, signal),
  }
}
