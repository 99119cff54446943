import { printDay } from '../calendar/day'
import type { Problem } from '../result'
import { covers, overlap, type UnitHistory, type UnitSpan } from './unit'

const problem = (
  code: string,
  unit: string,
  message: string,
  values: Record<string, string | number> = {},
): Problem => ({ code, message, at: `units/${unit}`, values: { unit, ...values } })

/**
 * Everything that cannot be in a tree of units, each with its reason: `unit-double` (two units of one code),
 * `unit-code-case` (two codes that differ in capitals only), `unit-closes-first` (closing on or before the
 * day of opening), `unit-two-parents` (two things true of a unit on one day), `unit-no-parent` (an orphan),
 * `unit-parent-closed` (open on a day on which its parent is not), `unit-level` (not below its parent's
 * level), `unit-cycle` (a unit below itself).
 */
export function checkTree(units: readonly UnitHistory[]): Problem[] {
  const byCode = new Map<string, UnitHistory>()
  const byFolded = new Map<string, string>()
  const problems: Problem[] = []
  for (const unit of units) {
    if (byCode.has(unit.code))
      problems.push(problem('unit-double', unit.code, `There are two units ${unit.code}.`))
    byCode.set(unit.code, unit)
    const like = byFolded.get(unit.code.toLowerCase())
    if (like !== undefined && like !== unit.code)
      problems.push(
        problem('unit-code-case', unit.code, `There is a unit ${like} already: write its code so.`, { like }),
      )
    else byFolded.set(unit.code.toLowerCase(), unit.code)
  }
  for (const unit of byCode.values())
    problems.push(...checkDays(unit), ...unit.spans.flatMap(span => checkParent(unit.code, span, byCode)))
  // Where every unit is below its parent's level no ring can close, so the rest need not be looked at.
  if (!problems.some(({ code }) => code === 'unit-level')) return problems
  const { rings, ringProblems } = findRings(byCode)
  // The ring first: where levels do not fit because of it, it is the reason.
  return [
    ...ringProblems,
    ...problems.filter(({ code, values }) => code !== 'unit-level' || !rings.has(String(values!.unit))),
  ]
}

function checkDays({ code, spans }: UnitHistory): Problem[] {
  const problems: Problem[] = []
  for (const { from, to } of spans) {
    if (to !== null && to <= from)
      problems.push(
        problem(
          'unit-closes-first',
          code,
          `${code} ends on ${printDay(to)}, before it begins on ${printDay(from)}.`,
          { from: printDay(from), to: printDay(to) },
        ),
      )
  }
  const inOrder = [...spans].sort((one, other) => one.from - other.from)
  inOrder.slice(1).forEach((span, at) => {
    const before = inOrder[at]!
    if (overlap(before, span))
      problems.push(
        problem(
          'unit-two-parents',
          code,
          `From ${printDay(span.from)} ${code} would be in ${before.parent ?? 'no unit'} and in ${span.parent ?? 'no unit'} at once.`,
          { from: printDay(span.from), one: before.parent ?? '', other: span.parent ?? '' },
        ),
      )
  })
  return problems
}

function checkParent(code: string, span: UnitSpan, byCode: ReadonlyMap<string, UnitHistory>): Problem[] {
  if (span.parent === null) return []
  const parent = byCode.get(span.parent)
  if (!parent)
    return [
      problem('unit-no-parent', code, `${code} belongs to ${span.parent}, which is not there.`, {
        parent: span.parent,
      }),
    ]
  const closed = firstDayUncovered(span, parent.spans)
  if (closed !== null)
    return [
      problem(
        'unit-parent-closed',
        code,
        `${code} is open on ${printDay(closed)}, when ${span.parent} is not.`,
        { parent: span.parent, day: printDay(closed) },
      ),
    ]
  const notAbove = parent.spans.find(above => overlap(above, span) && above.level >= span.level)
  return notAbove
    ? [
        problem(
          'unit-level',
          code,
          `${code} is on level ${span.level}, which is not below level ${notAbove.level} of ${span.parent}.`,
          { parent: span.parent, level: span.level, above: notAbove.level },
        ),
      ]
    : []
}

/** The first day of a span that none of some others covers; null when they cover it all. */
function firstDayUncovered(span: UnitSpan, others: readonly UnitSpan[]): number | null {
  let day = span.from
  for (;;) {
    const found = others.find(other => covers(other, day))
    if (!found) return day
    if (found.to === null || (span.to !== null && found.to >= span.to)) return null
    day = found.to
  }
}

/**
 * Follows parents upwards from each unit on each day on which some unit changes, and reports each ring once.
 */
function findRings(byCode: ReadonlyMap<string, UnitHistory>): {
  rings: Set<string>
  ringProblems: Problem[]
} {
  const rings = new Set<string>()
  const ringProblems: Problem[] = []
  const changes = [
    ...new Set([...byCode.values()].flatMap(({ spans }) => spans.map(({ from }) => from))),
  ].sort((one, other) => one - other)
  for (const day of changes) {
    const sound = new Set<string>()
    for (const start of byCode.keys()) {
      const trail = new Set<string>()
      let code: string | null = start
      while (code !== null && !sound.has(code) && !trail.has(code)) {
        trail.add(code)
        code = byCode.get(code)?.spans.find(span => covers(span, day))?.parent ?? null
      }
      if (code !== null && trail.has(code) && !rings.has(code)) {
        const steps = [...trail].slice([...trail].indexOf(code))
        const ring = [...steps, code].join(' → ')
        steps.forEach(one => rings.add(one))
        ringProblems.push(problem('unit-cycle', code, `${ring}: a unit cannot be below itself.`, { ring }))
      }
      trail.forEach(one => sound.add(one))
    }
  }
  return { rings, ringProblems }
}
