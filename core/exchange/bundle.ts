import type { Edition } from '../report/edition'
import { completeEdition } from '../report/older'
import { bad, good, type Result } from '../result'

/**
 * What the file says it is. The number rises when an older program could no longer read it: since 2 the items
 * of a dataset are of every kind.
 */
export const BUNDLE_FORMAT = 'eastward-lantern-definitions'
export const BUNDLE_VERSION = 2

/** Everything that is defined, in one file. docs/bundle.md describes it. */
export interface Bundle {
  format: typeof BUNDLE_FORMAT
  version: typeof BUNDLE_VERSION
  /** Editions as they were published last, with who reports them. */
  datasets: { edition: unknown; reports: unknown }[]
  registers: unknown[]
  lists: unknown[]
  groups: unknown[]
}

/**
 * Writes a bundle with its keys in a fixed order and two spaces, so that versions of it can be compared line
 * by line.
 */
export const printBundle = (parts: Omit<Bundle, 'format' | 'version'>): string =>
  `${JSON.stringify({ format: BUNDLE_FORMAT, version: BUNDLE_VERSION, ...parts }, null, 2)}\n`

/** Datasets of version 1, in which all items were numbers, in today's shape. What has another shape stays. */
const numbersOnly = (datasets: unknown): unknown =>
  Array.isArray(datasets)
    ? datasets.map((one: { edition?: { sections?: unknown } } | null) =>
        Array.isArray(one?.edition?.sections) && one.edition.sections.every(hasItems)
          ? { ...one, edition: completeEdition(one.edition as unknown as Edition) }
          : one,
      )
    : datasets
const hasItems = (section: unknown): boolean =>
  typeof section === 'object' &&
  section !== null &&
  'items' in section &&
  Array.isArray(section.items) &&
  section.items.every(item => typeof item === 'object' && item !== null)

/**
 * Reads a bundle as far as its own shape goes; each part is checked by itself, so that one bad part does not
 * stop the others. Errors: `bundle-not-json`, `bundle-not-one`, `bundle-newer`, `bundle-part` (a part that is
 * no list).
 */
export function readBundle(text: string): Result<Bundle> {
  let value: unknown
  try {
    value = JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch {
    return bad({ code: 'bundle-not-json', message: 'This is no JSON.' })
  }
  const { format, version, ...parts } = (typeof value === 'object' && value !== null ? value : {}) as Partial<
    Record<keyof Bundle, unknown>
  >
  if (format !== BUNDLE_FORMAT)
    return bad({
      code: 'bundle-not-one',
      message: `This is no bundle of definitions: it does not say “${BUNDLE_FORMAT}”.`,
    })
  if (typeof version !== 'number' || version > BUNDLE_VERSION)
    return bad({
      code: 'bundle-newer',
      message: 'This bundle was written by a newer program.',
      values: { version: String(version) },
    })
  const lists = {
    datasets: version === 1 ? numbersOnly(parts.datasets ?? []) : (parts.datasets ?? []),
    registers: parts.registers ?? [],
    lists: parts.lists ?? [],
    groups: parts.groups ?? [],
  }
  const odd = Object.entries(lists).find(([, part]) => !Array.isArray(part))
  if (odd) return bad({ code: 'bundle-part', message: `“${odd[0]}” is no list.`, values: { part: odd[0] } })
  return good({ format: BUNDLE_FORMAT, version: BUNDLE_VERSION, ...lists } as Bundle)
}
