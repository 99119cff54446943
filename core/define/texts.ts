import type { Words } from '../report/edition'

/** One text of a definition that people read, with where it stands. */
export interface DefinedText {
  /** `sections/2/items/0/name`: the way to it, by keys. */
  path: string
  /** What it belongs to: the code of the nearest thing around it that has one. */
  of: string
  /** `name`, `label`, `definition`, `message`, `forClerk`, … */
  part: string
  words: Words
  missing: string[]
}

/** Keys that hold words: a definition's other objects are structure. */
const WORD_KEYS = new Set([
  'name',
  'label',
  'definition',
  'message',
  'forClerk',
  'forOfficer',
  'unitOfMeasure',
])

const isWords = (key: string, value: unknown): value is Words =>
  WORD_KEYS.has(key) && typeof value === 'object' && value !== null

/**
 * Every text of a dataset's or register's definition, in its order, with the languages in which it is
 * missing. A text that is empty in all languages is a text that nobody wrote (a definition that is not
 * needed): it is left out, unless it is a name or label.
 */
export function textsOf(definition: object, languages: readonly string[]): DefinedText[] {
  const found: DefinedText[] = []
  const visit = (value: object, path: string, of: string) => {
    const own = 'code' in value && typeof value.code === 'string' ? value.code : of
    for (const [key, inner] of Object.entries(value)) {
      const place = path ? `${path}/${key}` : key
      if (isWords(key, inner)) {
        const missing = languages.filter(language => !inner[language]?.trim())
        if (missing.length < languages.length || key === 'name' || key === 'label')
          found.push({ path: place, of: own, part: key, words: inner, missing })
      } else if (typeof inner === 'object' && inner !== null) visit(inner as object, place, own)
    }
  }
  visit(definition, '', '')
  return found
}
