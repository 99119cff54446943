import type { AnswerQuestion, FormPart, FormSection } from '../form/question'

/** Where a part stands among others: what is around it (null at the top), and its place there. */
export interface PartPlace {
  part: FormPart
  around: Exclude<FormPart, AnswerQuestion> | null
  /** The list that it stands in: to be altered in place, in a draft. */
  siblings: FormPart[]
  at: number
  depth: number
}

/** The parts inside a part; none for a question. */
export function insideOf(part: FormPart): FormPart[] | null {
  if (part.kind === 'section' || part.kind === 'repeat') return part.parts as FormPart[]
  return part.kind === 'table' ? (part.columns as FormPart[]) : null
}

/** Every part of a form with its place, in paper order. */
export function placesOf(
  parts: readonly FormPart[],
  around: PartPlace['around'] = null,
  depth = 0,
): PartPlace[] {
  return parts.flatMap((part, at) => {
    const inside = insideOf(part)
    return [
      { part, around, siblings: parts as FormPart[], at, depth },
      ...(inside ? placesOf(inside, part as FormSection, depth + 1) : []),
    ]
  })
}

/** Every part of a form, those inside others among them. */
export const partsOf = (parts: readonly FormPart[]): FormPart[] => placesOf(parts).map(({ part }) => part)

/**
 * May a part stand directly in another (null: at the top of the form)? Tables and repeats hold questions with
 * an answer only.
 */
export function mayStandIn(part: FormPart, around: PartPlace['around']): boolean {
  if (around === null || around.kind === 'section') return true
  const isAnswer = !['section', 'table', 'repeat', 'note'].includes(part.kind)
  return isAnswer && around.kind !== 'note'
}

/**
 * Moves a part one place up or down in paper order, in place: over a neighbour, into and out of sections at
 * their edges.
 * @returns false when there is nowhere to go.
 */
export function movePart(parts: FormPart[], code: string, by: 1 | -1): boolean {
  const place = placesOf(parts).find(({ part }) => part.code === code)
  if (!place) return false
  const { part, siblings, at, around } = place
  const neighbour = siblings[at + by]
  if (neighbour) {
    const inside = neighbour.kind === 'section' ? insideOf(neighbour) : null
    siblings.splice(at, 1)
    if (inside && part.kind !== 'section') inside.splice(by > 0 ? 0 : inside.length, 0, part)
    else siblings.splice(at + by, 0, part)
    return true
  }
  if (!around || around.kind !== 'section') return false
  return unnest(parts, code, by)
}

/** Takes a part out of what is around it, to just before or after that. */
export function unnest(parts: FormPart[], code: string, by: 1 | -1 = 1): boolean {
  const all = placesOf(parts)
  const place = all.find(({ part }) => part.code === code)
  const outer = place?.around && all.find(({ part }) => part === place.around)
  if (!place || !outer) return false
  place.siblings.splice(place.at, 1)
  outer.siblings.splice(by > 0 ? outer.at + 1 : outer.at, 0, place.part)
  return true
}

/** Puts a part at the end of the section, table or repeat right before it. */
export function nest(parts: FormPart[], code: string): boolean {
  const place = placesOf(parts).find(({ part }) => part.code === code)
  const before = place?.siblings[place.at - 1]
  const inside = before && insideOf(before)
  if (!place || !before || !inside || !mayStandIn(place.part, before as PartPlace['around'])) return false
  place.siblings.splice(place.at, 1)
  inside.push(place.part)
  return true
}
