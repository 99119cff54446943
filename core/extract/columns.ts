import type { AnswerContent, Answers, Position } from '../form/answer'
import { codeFromLabel } from '../form/code'
import { wordsIn } from '../report/edition'
import type { ExtractHeads } from '../contract/extracts'
import { OF_ANSWER, OF_ITEM, type ValueType } from './about'
import type { ExtractField } from './fields'

/** What stands in one place of an extract. A day is `2026-10-05`, an instant as in RFC 3339. */
export type ExtractValue = string | number | boolean | null

/** One row before it is written: what it says about itself, and its answers. */
export interface ExtractRow {
  about: Readonly<Record<string, ExtractValue | undefined>>
  /** Of rows that are cells: what is said of the item in every report, and of the cell. There may be millions. */
  item?: Readonly<Record<string, ExtractValue | undefined>>
  own?: Readonly<Record<string, ExtractValue | undefined>>
  answers: Answers
}

/** A column of the file. */
export interface ExtractColumn {
  /** What it is called in the file. Unique in its sheet. */
  head: string
  /** Its name in words. */
  label: string
  type: ValueType
  field: ExtractField
  read: (row: ExtractRow) => ExtractValue
}

/** How columns are named and written. */
export interface ColumnSettings {
  heads: ExtractHeads
  choices: 'label' | 'code'
  several: 'columns' | 'list'
  reasons: boolean
  language: 'en' | 'fr'
  /** The name of a unit by its code. */
  unitName: (code: string) => string
}

const SAYS = {
  en: { true: 'yes', false: 'no', why: 'why none', latitude: 'latitude', longitude: 'longitude' },
  fr: { true: 'oui', false: 'non', why: 'pourquoi aucune', latitude: 'latitude', longitude: 'longitude' },
} as const

/** Where a row says what its column about the row shows. */
const layerOf = (code: string) => (OF_ANSWER.has(code) ? 'own' : OF_ITEM.has(code) ? 'item' : 'about')

const valueIn = (content: AnswerContent | undefined) =>
  content?.kind === 'value' ? content.value : undefined

/** Why a question has no answer: `notOffered`, or the reason why it is not known. */
function reasonIn(content: AnswerContent | undefined): string | null {
  if (content?.kind === 'notKnown') return content.reason
  return content?.kind === 'notOffered' ? 'notOffered' : null
}

/** A column before it has its name: what is added to the name of its field. */
interface Part {
  suffix: string
  says: string
  type: ValueType
  of: (content: AnswerContent | undefined) => ExtractValue
}

const plain = (type: ValueType, of: Part['of']): Part => ({ suffix: '', says: '', type, of })

/** The columns that one question fills. */
function partsOf({ question, type }: ExtractField, settings: ColumnSettings): Part[] {
  const byLabel = settings.choices === 'label'
  const says = SAYS[settings.language]
  const truth = (value: boolean) => (byLabel ? says[`${value}`] : value)
  switch (question!.kind) {
    case 'yesNo':
      return [
        plain(byLabel ? 'text' : 'truth', content => {
          const value = valueIn(content)
          return typeof value === 'boolean' ? truth(value) : null
        }),
      ]
    case 'oneOf':
    case 'severalOf': {
      const labels = new Map(
        question!.choices.map(({ code, label }) => [code, wordsIn(label, settings.language)]),
      )
      const named = (code: string) => (byLabel ? (labels.get(code) ?? code) : code)
      if (question!.kind === 'oneOf')
        return [
          plain('text', content => {
            const value = valueIn(content)
            return typeof value === 'string' ? named(value) : null
          }),
        ]
      const chosen = (content: AnswerContent | undefined) => {
        const value = valueIn(content)
        return Array.isArray(value) ? (value as readonly string[]) : null
      }
      if (settings.several === 'list')
        return [plain('text', content => chosen(content)?.map(named).join('; ') ?? null)]
      return question!.choices.map(({ code }) => ({
        suffix: code,
        says: labels.get(code)!,
        type: byLabel ? 'text' : 'truth',
        of: content => {
          const all = chosen(content)
          return all && truth(all.includes(code))
        },
      }))
    }
    case 'position':
      return (['latitude', 'longitude'] as const).map(which => ({
        suffix: which,
        says: says[which],
        type: 'number',
        of: content => (valueIn(content) as Position | undefined)?.[which] ?? null,
      }))
    case 'unit':
      return [
        plain('text', content => {
          const value = valueIn(content)
          return typeof value === 'string' ? (byLabel ? settings.unitName(value) : value) : null
        }),
      ]
    default:
      return [plain(type, content => plainValue(valueIn(content)))]
  }
}

/** A number, a text, a day; of a picture or a sound the hash under which it is kept. */
function plainValue(value: ReturnType<typeof valueIn>): ExtractValue {
  if (value === undefined) return null
  if (Array.isArray(value)) return value.join('; ')
  if (typeof value === 'object') return 'hash' in value ? value.hash : null
  return value as ExtractValue
}

/**
 * The columns of the chosen fields, in their order.
 *
 * @param chosen each with the name that somebody gave it
 * @param readAnswer the answer of a field in a row: in a repeat that of the row's instance
 * @example columnsOf([{ field }], settings, (row, { key }) => row.answers[key])[0]!.head // 'sex'
 */
export function columnsOf(
  chosen: readonly { field: ExtractField; name?: string }[],
  settings: ColumnSettings,
  readAnswer: (row: ExtractRow, field: ExtractField) => AnswerContent | undefined,
): ExtractColumn[] {
  const taken = new Set<string>()
  /** A head that two columns would have gets a number: no program reads a table with two alike. */
  const unique = (head: string) => {
    let free = head
    for (let next = 2; taken.has(free); next++) free = `${head}_${next}`
    taken.add(free)
    return free
  }
  const headOf = (field: ExtractField, name: string | undefined, { suffix, says }: Part) => {
    if (settings.heads === 'label') {
      const label = name ?? wordsIn(field.label, settings.language)
      return unique(says ? `${label}: ${says}` : label)
    }
    const base = name ?? field[settings.heads]
    if (!suffix) return unique(base)
    const long = settings.heads === 'path' ? `${base}.${suffix}` : `${base}_${suffix}`
    return unique(name || settings.heads === 'path' ? long : codeFromLabel(long, taken))
  }
  return chosen.flatMap(({ field, name }): ExtractColumn[] => {
    const label = wordsIn(field.label, settings.language)
    if (!field.question) {
      const code = field.key.slice(1)
      const layer = layerOf(code)
      const inWords = field.type === 'truth' && settings.choices === 'label'
      const type = inWords ? 'text' : field.type
      const said = (value: ExtractValue) =>
        inWords && typeof value === 'boolean' ? SAYS[settings.language][`${value}`] : value
      return [
        {
          ...{
            head: headOf(
              field,
              name,
              plain(type, () => null),
            ),
            label,
            type,
            field,
          },
          read: row => said(row[layer]?.[code] ?? null),
        },
      ]
    }
    const parts = partsOf(field, settings)
    if (settings.reasons)
      parts.push({ suffix: 'why', says: SAYS[settings.language].why, type: 'text', of: reasonIn })
    return parts.map(part => ({
      head: headOf(field, name, part),
      label: part.says ? `${label}: ${part.says}` : label,
      type: part.type,
      field,
      read: row => part.of(readAnswer(row, field)),
    }))
  })
}
