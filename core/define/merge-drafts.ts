import { same } from '../same'

/** A draft put together from two, and what both had changed: there mine stands. */
export interface Merged<T> {
  merged: T
  /** Ways by keys and codes, as `items/deliveries/name/en`. */
  both: string[]
}

type Json = Record<string, unknown>

const isPlain = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** What tells the members of a list apart: their code (of a register's form: the form's). */
const codeOf = (value: unknown): string | null => {
  if (!isPlain(value)) return null
  if (typeof value.code === 'string') return value.code
  return isPlain(value.form) && typeof value.form.code === 'string' ? value.form.code : null
}
const isCoded = (list: unknown): list is Json[] =>
  Array.isArray(list) && list.every(one => codeOf(one) !== null)

/**
 * Merges two drafts that began from the same one, part by part: what only one of the two changed is taken
 * over; where both changed the same, mine is kept and the place is listed. Lists of things with codes are
 * merged by code: what either added is there, what either took out is gone unless the other changed it
 * meanwhile. The order is mine where I changed it.
 */
export function mergeDrafts<T>(base: T, mine: T, theirs: T): Merged<T> {
  const both: string[] = []
  return { merged: mergeValue(base, mine, theirs, '', both) as T, both }
}

function mergeValue(base: unknown, mine: unknown, theirs: unknown, at: string, both: string[]): unknown {
  if (same(mine, theirs) || same(base, theirs)) return mine
  if (same(base, mine)) return theirs
  if (isPlain(base) && isPlain(mine) && isPlain(theirs)) {
    const keys = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])]
    const entries = keys.map(
      key => [key, mergeValue(base[key], mine[key], theirs[key], at ? `${at}/${key}` : key, both)] as const,
    )
    return Object.fromEntries(entries.filter(([, value]) => value !== undefined))
  }
  if (isCoded(base) && isCoded(mine) && isCoded(theirs)) return mergeLists(base, mine, theirs, at, both)
  both.push(at)
  return mine
}

function mergeLists(base: Json[], mine: Json[], theirs: Json[], at: string, both: string[]): Json[] {
  const byCode = (list: Json[]) => new Map(list.map(one => [codeOf(one)!, one]))
  const [old, own, other] = [byCode(base), byCode(mine), byCode(theirs)]
  const merged = new Map<string, Json>()
  for (const code of new Set([...own.keys(), ...other.keys()])) {
    const [from, here, there] = [old.get(code), own.get(code), other.get(code)]
    if (here && there) merged.set(code, mergeValue(from, here, there, `${at}/${code}`, both) as Json)
    else {
      const left = (here ?? there)!
      if (!from) merged.set(code, left)
      else if (!same(from, left)) {
        // One removed it, the other changed it: it stays, and the place is listed.
        merged.set(code, left)
        both.push(`${at}/${code}`)
      }
    }
  }
  const order = (list: Json[]) => list.map(one => codeOf(one)!).filter(code => merged.has(code))
  const common = (list: Json[]) =>
    order(list).filter(code => old.has(code) && own.has(code) && other.has(code))
  const [lead, rest] = same(common(base), common(mine))
    ? [order(theirs), order(mine)]
    : [order(mine), order(theirs)]
  const placed = [...lead]
  // What only the other list has comes behind what it stands behind there.
  rest.forEach((code, place) => {
    if (placed.includes(code)) return
    const before = rest.slice(0, place).findLast(one => placed.includes(one))
    placed.splice(before === undefined ? 0 : placed.indexOf(before) + 1, 0, code)
  })
  return placed.map(code => merged.get(code)!)
}
