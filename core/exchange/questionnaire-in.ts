import { LONGEST_TEXT } from '../form/answer'
import { printText } from '../expression/print'
import { codeFromLabel } from '../form/code'
import type { AnswerQuestion, Choice, Form, FormPart } from '../form/question'
import { isTypedNumber } from '../report/asked'
import type { Words } from '../report/edition'
import { bad, good, type Result } from '../result'
import { bothHold, conditionsText, signedNumber, type AskedAbout } from './fhir-conditions'
import {
  OWN,
  STANDARD,
  type Extension,
  type NotCarried,
  type Questionnaire,
  type QuestionnaireItem,
  type WithExtensions,
} from './fhir-marks'

const KINDS: Record<string, FormPart['kind']> = {
  group: 'section',
  display: 'note',
  boolean: 'yesNo',
  decimal: 'decimal',
  integer: 'wholeNumber',
  date: 'date',
  dateTime: 'date',
  time: 'time',
  string: 'text',
  text: 'text',
  url: 'text',
  choice: 'oneOf',
  'open-choice': 'oneOf',
  attachment: 'picture',
  quantity: 'decimal',
  reference: 'text',
}
/** Types that become something near, and what of them is left behind. */
const NEAR: Record<string, string> = {
  dateTime: 'dateTime: the time of day',
  'open-choice': 'open-choice: the free answer',
  quantity: 'quantity: the unit that is chosen',
  url: 'url',
  reference: 'reference',
}
const KNOWN: ReadonlySet<string> = new Set<string>(Object.values(STANDARD))
const SECTIONS_DEEP = 4
/** The properties of an item that are read; all others are listed as not carried. */
const READ: ReadonlySet<string> = new Set([
  'linkId',
  'type',
  'text',
  '_text',
  'required',
  'repeats',
  'readOnly',
  'maxLength',
  'enableWhen',
  'enableBehavior',
  'answerOption',
  'initial',
  'item',
  'extension',
])
const READ_OF_WHOLE: ReadonlySet<string> = new Set([
  'resourceType',
  'status',
  'name',
  'title',
  '_title',
  'language',
  'item',
  'extension',
])
/**
 * A code that can stand here as it is. A choice is a text of the expressions, so words of the language are
 * none the worse.
 */
const CODE = /^[a-z][a-z0-9_]{0,31}$/

const ownOf = (extensions: readonly Extension[] | undefined, name: string): string | undefined =>
  extensions?.find(({ url }) => url === `${OWN}${name}`)?.valueString
const readOwn = (extensions: readonly Extension[] | undefined, name: string): unknown => {
  const text = ownOf(extensions, name)
  if (text === undefined) return undefined
  try {
    return JSON.parse(text)
  } catch {
    return text // a plain text, as `shownWhen`
  }
}

function wordsOf(text: string | undefined, more: WithExtensions | undefined, language: string): Words {
  const words: Words = text ? { [language]: text } : {}
  for (const { url, extension } of more?.extension ?? []) {
    if (url !== STANDARD.translation) continue
    const lang = extension?.find(part => part.url === 'lang')
    const content = extension?.find(part => part.url === 'content')?.valueString
    const code = (lang?.valueCode ?? lang?.valueString)?.slice(0, 2)
    if (code && content) words[code] = content
  }
  return words
}

/**
 * A FHIR R4 Questionnaire as a case form: ours whole, a stranger's as far as it goes, with a list of what was
 * not carried. What comes out still has to be compiled before it is used. Errors: `questionnaire-not-one`.
 */
export function formOfQuestionnaire(resource: unknown): Result<{ form: Form; notCarried: NotCarried[] }> {
  const {
    resourceType,
    item: items,
    title,
    name,
    _title,
    language: given,
    extension,
  } = (typeof resource === 'object' && resource !== null ? resource : {}) as Partial<Questionnaire>
  if (resourceType !== 'Questionnaire' || !Array.isArray(items) || items.length === 0) {
    return bad({ code: 'questionnaire-not-one', message: 'This is no FHIR Questionnaire with items.' })
  }
  const language = given?.slice(0, 2) ?? 'en'
  const notCarried: NotCarried[] = Object.keys(resource as object)
    .filter(key => !READ_OF_WHOLE.has(key))
    .map(what => ({ question: '', what, how: 'lost' }))
  for (const { url } of extension ?? [])
    if (!url.startsWith(OWN)) notCarried.push({ question: '', what: url, how: 'lost' })
  const taken = new Set<string>()
  /** Every item by its name there, with what conditions need to know of it. */
  const named = new Map<string, AskedAbout>()
  const nameAll = (of: readonly QuestionnaireItem[]) =>
    of.forEach(item => {
      const code = codeFromLabel(item.linkId || item.text || 'question', taken)
      taken.add(code)
      named.set(item.linkId, { code, kind: kindOf(item), choices: choiceCodes(item) })
      nameAll(item.item ?? [])
    })
  nameAll(items)

  const partOf = (item: QuestionnaireItem, depth: number, around?: string): FormPart[] => {
    const { code, kind, choices } = named.get(item.linkId)!
    const tell = (what: string) => notCarried.push({ question: code, what, how: 'lost' })
    for (const key of Object.keys(item)) if (!READ.has(key)) tell(key)
    for (const { url } of item.extension ?? []) if (!KNOWN.has(url) && !url.startsWith(OWN)) tell(url)
    if (!kind) {
      tell(item.type)
      return (item.item ?? []).flatMap(one => partOf(one, depth, around))
    }
    const isOwn = ownOf(item.extension, 'kind') !== undefined
    if (NEAR[item.type] && !isOwn) tell(NEAR[item.type]!)
    if (item.repeats && kind !== 'severalOf' && kind !== 'repeat') tell('repeats')
    if (item.readOnly && kind !== 'computed') tell('readOnly')
    if (item.required && ['section', 'note', 'table', 'repeat'].includes(kind)) tell('required')
    if (item.maxLength && (kind !== 'text' || item.maxLength > LONGEST_TEXT)) tell('maxLength')
    const own = ownOf(item.extension, 'shownWhen')
    const said = own ?? conditionsText(item, question => named.get(question))
    if (said === null) tell('enableWhen')
    const shownWhen = bothHold(around, said ?? undefined)
    const base = {
      code,
      label: wordsOf(item.text ?? item.linkId, item._text, language),
      ...(shownWhen && { shownWhen }),
    }
    const definition = readOwn(item.extension, 'definition') as Words | undefined
    const inner = (condition?: string) => (item.item ?? []).flatMap(one => partOf(one, depth + 1, condition))
    /**
     * Only questions stand in a table or repeat: a section in it gives its own, each with the section's
     * condition.
     */
    const answers = () => {
      const flat = (parts: readonly FormPart[], condition?: string): AnswerQuestion[] =>
        parts.flatMap((part): AnswerQuestion[] => {
          const when = bothHold(condition, part.shownWhen)
          if (part.kind === 'section') {
            notCarried.push({ question: part.code, what: `section in ${kind}`, how: 'lost' })
            return flat(part.parts, when)
          }
          if (part.kind === 'note' || part.kind === 'table' || part.kind === 'repeat') {
            notCarried.push({ question: part.code, what: `${part.kind} in ${kind}`, how: 'lost' })
            return part.kind === 'note' ? [] : flat(part.kind === 'table' ? part.columns : part.parts, when)
          }
          return [when ? { ...part, shownWhen: when } : part]
        })
      return flat(inner())
    }
    if (kind === 'note') return [{ kind, ...base }]
    if (kind === 'table')
      return [
        {
          kind,
          ...base,
          ...(definition && { definition }),
          rows: (readOwn(item.extension, 'rows') ?? []) as Choice[] as never,
          columns: answers(),
        },
      ]
    if (kind === 'repeat') {
      const most = readOwn(item.extension, 'most')
      return [
        {
          kind,
          ...base,
          ...(definition && { definition }),
          parts: answers(),
          ...(typeof most === 'number' && { most }),
        },
      ]
    }
    if (kind === 'section') {
      if (depth <= SECTIONS_DEEP) return [{ kind, ...base, parts: inner() }]
      // What is in it stays, and is shown when the section would have been.
      tell('a section deeper than we go')
      return inner(shownWhen)
    }
    const question = {
      kind,
      ...base,
      ...(definition && { definition }),
      ...answerOf(item, kind, language, choices, tell),
    } as AnswerQuestion
    // A question may have questions under it there; here they follow it.
    return [question, ...inner(around)]
  }

  const parts = items.flatMap(item => partOf(item, 1))
  const axes = readOwn(extension, 'axes') as Form['axes']
  return good({
    form: {
      code: codeFromLabel(name ?? title ?? 'form', []),
      name: wordsOf(title ?? name ?? 'Form', _title, language),
      ...(axes && { axes }),
      parts,
    },
    notCarried,
  })
}

function kindOf(item: QuestionnaireItem): FormPart['kind'] | undefined {
  const own = ownOf(item.extension, 'kind')
  return (own ??
    (item.type === 'choice' && item.repeats
      ? 'severalOf'
      : item.type === 'group' && item.repeats
        ? 'repeat'
        : KINDS[item.type])) as FormPart['kind'] | undefined
}

/** What an item says of the answer, by the kind that it becomes. */
function answerOf(
  item: QuestionnaireItem,
  kind: string,
  language: string,
  choices: ReadonlyMap<string, string>,
  tell: (what: string) => void,
): Record<string, unknown> {
  const { extension } = item
  const standard = (url: string) => extension?.find(one => one.url === url)
  const numberIn = (url: string) => standard(url)?.valueInteger ?? standard(url)?.valueDecimal
  const unit = standard(STANDARD.unit)?.valueCoding
  const made: Record<string, unknown> = {
    required: item.required ? 'always' : readOwn(extension, 'required'),
    acceptedIf: readOwn(extension, 'acceptedIf'),
    default: ownOf(extension, 'default') ?? initialOf(item, kind, choices, tell),
  }
  if (item.answerOption && kind !== 'oneOf' && kind !== 'severalOf') tell('answerOption')
  const numeric = isTypedNumber(kind)
  for (const url of [STANDARD.least, STANDARD.most])
    if (standard(url) && !(numeric && numberIn(url) !== undefined)) tell(url)
  if (standard(STANDARD.pattern) && kind !== 'text' && kind !== 'identifier') tell(STANDARD.pattern)
  if (unit && !numeric && kind !== 'computed') tell(STANDARD.unit)
  if (kind === 'text' || kind === 'identifier') made.pattern = standard(STANDARD.pattern)?.valueString
  if (kind === 'text' && item.maxLength) made.longest = Math.min(item.maxLength, LONGEST_TEXT)
  if (numeric)
    Object.assign(made, {
      least: numberIn(STANDARD.least),
      most: numberIn(STANDARD.most),
      axes: readOwn(extension, 'axes'),
      range: readOwn(extension, 'range'),
    })
  if (['wholeNumber', 'decimal', 'computed'].includes(kind)) made.unitOfMeasure = unit?.code ?? unit?.display
  if (kind === 'unit') made.level = readOwn(extension, 'level')
  if (kind === 'picture' || kind === 'sound')
    Object.assign(made, {
      mostBytes: readOwn(extension, 'mostBytes'),
      asTaken: readOwn(extension, 'asTaken'),
    })
  if (['oneOf', 'severalOf', 'unit'].includes(kind)) made.cascade = ownOf(extension, 'cascade')
  if (kind === 'computed') made.expression = ownOf(extension, 'expression')
  if (kind === 'oneOf' || kind === 'severalOf')
    Object.assign(made, { list: ownOf(extension, 'list'), choices: choicesOf(item, language, choices, tell) })
  return Object.fromEntries(Object.entries(made).filter(([, value]) => value !== undefined))
}

/** The answer that stands there at first, as an expression. */
function initialOf(
  item: QuestionnaireItem,
  kind: string,
  choices: ReadonlyMap<string, string>,
  tell: (what: string) => void,
): string | undefined {
  const selected = (item.answerOption ?? [])
    .filter(option => option.initialSelected)
    .map(option => ({ valueCoding: { code: nameOfOption(option) } }))
  const all: Record<string, unknown>[] = [...(item.initial ?? []), ...selected]
  if (!all.length) return undefined
  const [value] = Object.values(all[0]!)
  const isText = kind === 'text' || kind === 'identifier'
  const coding = typeof value === 'object' && value !== null ? (value as { code?: string }).code : undefined
  const choice = kind === 'oneOf' ? choices.get(coding ?? String(value)) : undefined
  const text =
    all.length > 1
      ? undefined
      : choice !== undefined
        ? printText(choice)
        : typeof value === 'number' && isTypedNumber(kind)
          ? signedNumber(value)
          : typeof value === 'boolean' && kind === 'yesNo'
            ? String(value)
            : typeof value === 'string' && isText
              ? printText(value)
              : typeof value === 'string' && kind === 'date' && /^\d{4}-\d\d-\d\d$/.test(value)
                ? `date("${value}")`
                : undefined
  if (text === undefined) tell('initial')
  return text
}

type Option = NonNullable<QuestionnaireItem['answerOption']>[number]

/** What a resource calls a choice: its code, else its text. */
const nameOfOption = ({ valueCoding, valueString, valueInteger, valueDate, valueTime }: Option): string =>
  valueCoding?.code ??
  valueCoding?.display ??
  valueString ??
  valueDate ??
  valueTime ??
  String(valueInteger ?? '')

/** The codes of an item's choices here, by what it calls them. One that can be a code stays what it is. */
function choiceCodes(item: QuestionnaireItem): ReadonlyMap<string, string> {
  const names = (item.answerOption ?? []).map(nameOfOption)
  const taken = new Set(names.filter(name => CODE.test(name)))
  return new Map(
    names.map(name => {
      if (CODE.test(name)) return [name, name]
      const code = codeFromLabel(name, taken)
      taken.add(code)
      return [name, code]
    }),
  )
}

function choicesOf(
  item: QuestionnaireItem,
  language: string,
  codes: ReadonlyMap<string, string>,
  tell: (what: string) => void,
): Choice[] {
  return (item.answerOption ?? []).map(option => {
    const { valueCoding, extension } = option
    const strange = Object.keys(option).find(
      key =>
        ![
          'valueCoding',
          'valueString',
          'valueInteger',
          'valueDate',
          'valueTime',
          'initialSelected',
          'extension',
        ].includes(key),
    )
    if (strange) tell(`answerOption.${strange}`)
    for (const { url } of extension ?? []) if (!url.startsWith(OWN)) tell(url)
    const under = ownOf(extension, 'under')
    return {
      code: codes.get(nameOfOption(option))!,
      label: wordsOf(valueCoding?.display ?? nameOfOption(option), valueCoding?._display, language),
      ...(under !== undefined && { under }),
    }
  })
}
