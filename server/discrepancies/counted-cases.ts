import { parsePeriod } from '#core/calendar/period-text'
import type { CountedCases } from '#core/contract/discrepancies'
import { countWords } from '#core/expression/in-words'
import { countText } from '#core/reconcile/count-doubt'
import { casesCounted, countsIn } from '#core/reconcile/count-figures'
import { must } from '#core/result'
import type { Access } from '../access/access'
import { caseCountFile } from '../case-counts/compare'
import { caseLines } from '../cases/list'
import { newestRegisters } from '../cases/registers'
import { database } from '../database'
import { countedUnitsOf } from '../reports/count-figures'
import { today } from '../settings'
import { findDiscrepancy, type FoundDiscrepancy } from './read'

/** So many cases of a count are named. */
const MOST_LINES = 200

/** The cases of a count that a report is held against. */
async function casesOfCount(access: Access, { row, round, ready }: FoundDiscrepancy) {
  const count = ready.edition.caseCounts?.find(({ code }) => code === row.code)
  if (!count) return { counts: [] }
  const { counted } = await caseCountFile(access, round.id, row.code, row.unit)
  const text = countText(count)
  return {
    counts: [
      {
        text,
        name: countWords(ready.edition, text),
        total: counted.length,
        lines: counted.slice(0, MOST_LINES).map(({ line }) => line),
      },
    ],
  }
}

/**
 * The cases that the rule of a discrepancy counts in its period, as they are now.
 * @throws Refusal 404, 403
 */
export async function countedCases(access: Access, id: string): Promise<{ counts: CountedCases[] }> {
  const sql = await database()
  const found = await findDiscrepancy(sql, access, id)
  const { row, round, ready } = found
  if (row.source === 'cases') return casesOfCount(access, found)
  const rules = ready.rules.filter(({ rule }) => row.source === 'rule' && rule.code === row.code)
  const countings = countsIn(rules)
  if (!countings.length) return { counts: [] }
  const place = { round, unit: { code: row.unit }, ready }
  const units = (await countedUnitsOf(sql, [place]))(place)
  const [day, period] = [await today(sql), must(parsePeriod(round.period))]
  const counted = countings.map(counting => {
    const unit = units.get(counting.register)
    return { counting, ids: unit ? casesCounted(counting, unit, period, day) : null }
  })
  const named = counted.flatMap(({ ids }) => ids?.slice(0, MOST_LINES) ?? [])
  const lines = await caseLines(sql, named, await newestRegisters(sql))
  return {
    counts: counted.map(({ counting, ids }) => ({
      text: counting.text,
      name: countWords(ready.edition, counting.text),
      total: ids?.length ?? null,
      lines: (ids ?? []).flatMap(one => lines.get(one) ?? []),
    })),
  }
}
