import { Type, type Static } from '@sinclair/typebox'
import { Code } from './drafts'
import { exact, Instant, oneOf, Uuid, Words } from './common'

/** A scanned page is a picture of at most so many bytes. */
export const LARGEST_PAGE = 4_000_000
export const LARGEST_BUNDLE = 4_000_000

export const OfPaper = exact({ kind: oneOf('dataset', 'register'), code: Code })
export const OnePaper = exact({ ...OfPaper.properties, id: Uuid })
export const PaperLine = exact({ id: Uuid, by: Type.String(), at: Instant, bytes: Type.Integer() })
export type PaperLine = Static<typeof PaperLine>
export const PaperPage = exact({
  base64: Type.String({
    minLength: 20,
    maxLength: Math.ceil((LARGEST_PAGE * 4) / 3) + 4,
    pattern: '^[A-Za-z0-9+/]+={0,2}$',
  }),
})

export const BundleText = exact({ text: Type.String({ minLength: 2, maxLength: LARGEST_BUNDLE }) })
const What = oneOf('dataset', 'register', 'list', 'group')
export const BundleTake = exact({
  ...BundleText.properties,
  take: Type.Array(exact({ what: What, code: Type.String({ maxLength: 100 }) }), { maxItems: 2000 }),
})

/** One thing that a bundle holds, and what would become of it here. */
export const BundleLine = exact({
  what: What,
  code: Type.String(),
  name: Words,
  /** `draftInTheWay`: somebody works on it here. `refused`: see `problem`. */
  verdict: oneOf('new', 'changed', 'same', 'draftInTheWay', 'refused', 'taken'),
  /** How many differences to what is here. */
  differences: Type.Integer(),
  problem: Type.String(),
  /** What of it has no place here: unknown units of who reports it, for one. */
  lost: Type.Array(Type.String()),
})
export type BundleLine = Static<typeof BundleLine>
