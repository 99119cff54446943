import { createHash } from 'node:crypto'

/**
 * An identifier that is the same in each run, made from what it stands for.
 * @example identifierOf('person clerk.lowgate') // as PERSON_ID makes it in SQL
 */
export function identifierOf(name: string): string {
  const hex = createHash('md5').update(name).digest('hex')
  return [
    [0, 8],
    [8, 12],
    [12, 16],
    [16, 20],
    [20, 32],
  ]
    .map(([from, to]) => hex.slice(from, to))
    .join('-')
}
