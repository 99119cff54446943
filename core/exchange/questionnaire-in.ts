import { codeFromLabel } from '../form/code'
import type { AnswerQuestion, Choice, Form, FormPart } from '../form/question'
import type { Words } from '../report/edition'
import { bad, good, type Result } from '../result'
import { OWN, STANDARD, type Extension, type NotCarried, type Questionnaire, type QuestionnaireItem, type WithExtensions } from './fhir-marks'

const KINDS: Record<string, FormPart['kind']> = {
  group: 'section', display: 'note', boolean: 'yesNo', decimal: 'decimal', integer: 'wholeNumber', date: 'date', dateTime: 'date', time: 'time',
  string: 'text', text: 'text', url: 'text', choice: 'oneOf', 'open-choice': 'oneOf', attachment: 'picture', quantity: 'decimal', reference: 'text',
}
/** Types that become something near, and what of them is left behind. */
const NEAR: Record<string, string> = { 'dateTime': 'dateTime: the time of day', 'open-choice': 'open-choice: the free answer', 'quantity': 'quantity: the unit that is chosen', 'url': 'url', 'reference': 'reference' }
const KNOWN: ReadonlySet<string> = new Set<string>(Object.values(STANDARD))
const SECTIONS_DEEP = 4

const ownOf = (extensions: readonly Extension[] | undefined, name: string): string | undefined => extensions?.find(({ url }) => url === `${OWN}${name}`)?.valueString
const readOwn = (extensions: readonly Extension[] | undefined, name: string): unknown => {
  const text = ownOf(extensions, name)
  if (text === undefined) return undefined
  try {
    return JSON.parse(text)
  }
  catch {
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
 * A FHIR R4 Questionnaire as a case form: ours whole, a stranger's as far as it goes, with what has no place here told.
 * What comes out still has to be compiled before it is used. Errors: `questionnaire-not-one`.
 */
export function formOfQuestionnaire(resource: unknown): Result<{ form: Form; notCarried: NotCarried[] }> {
  const { resourceType, item: items, title, name, _title, language: given, extension } = (typeof resource === 'object' && resource !== null ? resource : {}) as Partial<Questionnaire>
  if (resourceType !== 'Questionnaire' || !Array.isArray(items) || items.length === 0) {
    return bad({ code: 'questionnaire-not-one', message: 'This is no FHIR Questionnaire with items.' })
  }
  const language = given?.slice(0, 2) ?? 'en'
  const notCarried: NotCarried[] = []
  const taken = new Set<string>()
  const codes = new Map<string, string>()
  const nameAll = (of: readonly QuestionnaireItem[]) => of.forEach((item) => {
    const code = codeFromLabel(item.linkId || item.text || 'question', taken)
    taken.add(code)
    codes.set(item.linkId, code)
    nameAll(item.item ?? [])
  })
  nameAll(items)

  const partOf = (item: QuestionnaireItem, depth: number): FormPart[] => {
    const code = codes.get(item.linkId)!
    const tell = (what: string) => notCarried.push({ question: code, what, how: 'lost' })
    for (const { url } of item.extension ?? []) if (!KNOWN.has(url) && !url.startsWith(OWN)) tell(url)
    const kind = (ownOf(item.extension, 'kind') ?? (item.type === 'choice' && item.repeats ? 'severalOf' : item.type === 'group' && item.repeats ? 'repeat' : KINDS[item.type])) as FormPart['kind'] | undefined
    if (!kind) {
      tell(item.type)
      return []
    }
    if (NEAR[item.type] && !ownOf(item.extension, 'kind')) tell(NEAR[item.type]!)
    const shownWhen = ownOf(item.extension, 'shownWhen') ?? conditionText(item, codes, tell)
    const base = { code, label: wordsOf(item.text ?? item.linkId, item._text, language), ...(shownWhen && { shownWhen }) }
    const definition = readOwn(item.extension, 'definition') as Words | undefined
    const inner = () => (item.item ?? []).flatMap(one => partOf(one, depth + 1))
    const answers = () => inner().filter((part): part is AnswerQuestion => {
      const fits = !['section', 'note', 'table', 'repeat'].includes(part.kind)
      if (!fits) notCarried.push({ question: part.code, what: `${part.kind} in ${kind}`, how: 'lost' })
      return fits
    })
    if (kind === 'note') return [{ kind, ...base }]
    if (kind === 'table') return [{ kind, ...base, ...(definition && { definition }), rows: (readOwn(item.extension, 'rows') ?? []) as Choice[] as never, columns: answers() }]
    if (kind === 'repeat') {
      const most = readOwn(item.extension, 'most')
      return [{ kind, ...base, ...(definition && { definition }), parts: answers(), ...(typeof most === 'number' && { most }) }]
    }
    if (kind === 'section') {
      const parts = inner()
      if (depth < SECTIONS_DEEP) return [{ kind, ...base, parts }]
      tell('a section deeper than we go')
      return parts
    }
    const question = { kind, ...base, ...(definition && { definition }), ...answerOf(item, kind, language) } as AnswerQuestion
    // A question may have questions under it there; here they follow it.
    return [question, ...inner()]
  }

  const parts = items.flatMap(item => partOf(item, 1))
  const axes = readOwn(extension, 'axes') as Form['axes']
  return good({ form: { code: codeFromLabel(name ?? title ?? 'form', []), name: wordsOf(title ?? name ?? 'Form', _title, language), ...(axes && { axes }), parts }, notCarried })
}

/** What an item says of the answer, by the kind that it becomes. */
function answerOf(item: QuestionnaireItem, kind: string, language: string): Record<string, unknown> {
  const { extension } = item
  const standard = (url: string) => extension?.find(one => one.url === url)
  const numberIn = (url: string) => standard(url)?.valueInteger ?? standard(url)?.valueDecimal
  const unit = standard(STANDARD.unit)?.valueCoding
  const made: Record<string, unknown> = {
    required: item.required ? 'always' : readOwn(extension, 'required'),
    acceptedIf: readOwn(extension, 'acceptedIf'),
    default: ownOf(extension, 'default'),
  }
  if (kind === 'text' || kind === 'identifier') made.pattern = standard(STANDARD.pattern)?.valueString
  if (kind === 'text' && item.maxLength) made.longest = Math.min(item.maxLength, 2000)
  if (kind === 'wholeNumber' || kind === 'decimal') Object.assign(made, { least: numberIn(STANDARD.least), most: numberIn(STANDARD.most), axes: readOwn(extension, 'axes'), range: readOwn(extension, 'range') })
  if (['wholeNumber', 'decimal', 'computed'].includes(kind)) made.unitOfMeasure = unit?.code ?? unit?.display
  if (kind === 'unit') made.level = readOwn(extension, 'level')
  if (kind === 'picture' || kind === 'sound') made.mostBytes = readOwn(extension, 'mostBytes')
  if (['oneOf', 'severalOf', 'unit'].includes(kind)) made.cascade = ownOf(extension, 'cascade')
  if (kind === 'computed') made.expression = ownOf(extension, 'expression')
  if (kind === 'oneOf' || kind === 'severalOf') Object.assign(made, { list: ownOf(extension, 'list'), choices: choicesOf(item, language) })
  return Object.fromEntries(Object.entries(made).filter(([, value]) => value !== undefined))
}

function choicesOf(item: QuestionnaireItem, language: string): Choice[] {
  const taken = new Set<string>()
  return (item.answerOption ?? []).map(({ valueCoding, valueString, valueInteger, extension }) => {
    const text = valueCoding?.display ?? valueString ?? String(valueInteger ?? valueCoding?.code ?? '')
    const code = codeFromLabel(valueCoding?.code ?? text, taken)
    taken.add(code)
    const under = ownOf(extension, 'under')
    return { code, label: wordsOf(text, valueCoding?._display, language), ...(under !== undefined && { under }) }
  })
}

/** The standard's conditions as an expression; what cannot be said is told, and shown always. */
function conditionText(item: QuestionnaireItem, codes: ReadonlyMap<string, string>, tell: (what: string) => void): string | undefined {
  const parts = (item.enableWhen ?? []).map((condition) => {
    const code = codes.get(condition.question)
    const [key, answer] = Object.entries(condition).find(([name]) => name.startsWith('answer')) ?? []
    if (!code || key === undefined) return null
    if (condition.operator === 'exists') return answer === false ? `not filled(${code})` : `filled(${code})`
    if (typeof answer === 'number') return `${code} ${condition.operator} ${answer}`
    if (typeof answer === 'boolean') return (condition.operator === '=') === answer ? code : `not ${code}`
    const text = key === 'answerCoding' ? codeFromLabel((answer as { code?: string }).code ?? '', []) : typeof answer === 'string' ? answer : null
    if (text === null) return null
    return key === 'answerDate' ? `${code} ${condition.operator} date("${text}")` : `${code} ${condition.operator} "${text}"`
  })
  if (parts.some(part => part === null)) {
    tell('enableWhen')
    return undefined
  }
  return parts.length ? parts.join(item.enableBehavior === 'any' ? ' or ' : ' and ') : undefined
}
