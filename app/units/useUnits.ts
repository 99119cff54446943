import type { InjectionKey } from 'vue'
import type { UnitLine, UnitList } from '#core/contract/units'
import { fold, searchWords } from '#core/form/code'

/** How many units a search shows: who needs more types more. */
const MOST_FOUND = 50

/** The tree of units in the browser: who is below whom, paths in words, and the search by part of a name. */
export function useUnits(list: () => UnitList | null) {
  const { t, say } = useWords()
  const byCode = computed(() => new Map((list()?.units ?? []).map(unit => [unit.code, unit])))

  const children = computed(() => {
    const found = new Map<string | null, UnitLine[]>()
    for (const unit of list()?.units ?? []) {
      // Somebody who sees a branch only sees its top as the top.
      const parent = unit.parent !== null && byCode.value.has(unit.parent) ? unit.parent : null
      const siblings = found.get(parent)
      if (siblings) siblings.push(unit)
      else found.set(parent, [unit])
    }
    for (const siblings of found.values()) siblings.sort((one, other) => one.name.localeCompare(other.name))
    return found
  })

  function above(code: string): UnitLine[] {
    const found: UnitLine[] = []
    for (
      let unit = byCode.value.get(byCode.value.get(code)?.parent ?? '');
      unit;
      unit = byCode.value.get(unit.parent ?? '')
    )
      found.unshift(unit)
    return found
  }

  /** “Varrow Coast › Ashmere › Saltings”; the words for the top when there is nothing above. */
  const pathText = (code: string) =>
    above(code)
      .map(({ name }) => name)
      .join(' › ') || t('units.top')

  const levelName = (level: number) => {
    const words = list()?.levels[level - 1]
    return words ? say(words) : String(level)
  }

  /** Is it one that reports? */
  const isFacility = ({ level }: Pick<UnitLine, 'level'>) => level === list()?.facilityLevel

  const folded = computed(() =>
    (list()?.units ?? []).map(unit => ({ unit, text: fold(`${unit.name} ${unit.code}`) })),
  )

  /** How much of their path two units share: the higher, the nearer. */
  function nearness(code: string, other: string): number {
    const path = [...above(other).map(unit => unit.code), other]
    return (
      [...above(code).map(unit => unit.code), code].findIndex((of, at) => of !== path[at]) + 1 ||
      Number.MAX_SAFE_INTEGER
    )
  }

  /**
   * Units that hold all parts of a text in their name or code; the nearest to a unit first, then those that
   * begin with it.
   */
  function find(
    text: string,
    fits: (unit: UnitLine) => boolean = () => true,
    near?: string,
  ): { units: UnitLine[]; count: number } {
    const parts = searchWords(text)
    if (!parts.length) return { units: [], count: 0 }
    const hits = folded.value.filter(
      entry => parts.every(part => entry.text.includes(part)) && fits(entry.unit),
    )
    const begins = (entry: { text: string }) => +!entry.text.startsWith(parts[0]!)
    const far = new Map(hits.map(hit => [hit, near ? -nearness(hit.unit.code, near) : 0]))
    return {
      units: hits
        .sort((one, other) => far.get(one)! - far.get(other)! || begins(one) - begins(other))
        .slice(0, MOST_FOUND)
        .map(({ unit }) => unit),
      count: hits.length,
    }
  }

  return { byCode, children, above, nearness, pathText, levelName, isFacility, find }
}

/** The units that questions for a place choose from: given by the page, because a form does not know them. */
export const UNITS_HERE: InjectionKey<Units> = Symbol('units')

export type Units = ReturnType<typeof useUnits>
