import { compile } from '../expression/compile'
import { compileForm } from '../form/compile-form'
import type { Node } from '../expression/syntax'
import type { Vocabulary } from '../expression/vocabulary'
import type { AnswerQuestion, Form, FormPart, QuestionKind } from '../form/question'
import { wordsIn, type Words } from '../report/edition'
import {
  OWN,
  STANDARD,
  type Extension,
  type NotCarried,
  type Questionnaire,
  type QuestionnaireItem,
  type WithExtensions,
} from './fhir-marks'

const TYPES: Record<QuestionKind | 'section', string> = {
  section: 'group',
  table: 'group',
  repeat: 'group',
  note: 'display',
  text: 'text',
  identifier: 'string',
  wholeNumber: 'integer',
  decimal: 'decimal',
  date: 'date',
  partialDate: 'date',
  time: 'time',
  yesNo: 'boolean',
  oneOf: 'choice',
  severalOf: 'choice',
  picture: 'attachment',
  sound: 'attachment',
  unit: 'reference',
  person: 'reference',
  position: 'string',
  computed: 'decimal',
}
const OPERATORS: Record<string, string> = { '=': '=', '!=': '!=', '<': '<', '<=': '<=', '>': '>', '>=': '>=' }

const own = (name: string, value: unknown): Extension => ({
  url: `${OWN}${name}`,
  valueString: typeof value === 'string' ? value : JSON.stringify(value),
})

/** The words in the other languages, as the standard's translation extension. */
function translated(words: Words, language: string): WithExtensions | undefined {
  const others = Object.entries(words).filter(([code, text]) => code !== language && text)
  return others.length
    ? {
        extension: others.map(([lang, content]) => ({
          url: STANDARD.translation,
          extension: [
            { url: 'lang', valueCode: lang },
            { url: 'content', valueString: content },
          ],
        })),
      }
    : undefined
}

/**
 * A case form as a FHIR R4 Questionnaire. What the standard has no place for goes into extensions of our own,
 * and is told: other programs will not see it.
 * @param language in which the texts stand; the others are translations.
 */
export function questionnaireOf(
  form: Form,
  language = 'en',
): { resource: Questionnaire; notCarried: NotCarried[] } {
  const notCarried: NotCarried[] = []
  const compiled = compileForm(form)
  const vocabulary = compiled.ok ? compiled.value.vocabulary.whole : null

  const itemOf = (part: FormPart): QuestionnaireItem => {
    const extension: Extension[] = [own('kind', part.kind)]
    const keep = (name: string, value: unknown) => {
      if (value === undefined || value === null) return
      extension.push(own(name, value))
      notCarried.push({ question: part.code, what: name, how: 'ownOnly' })
    }
    const _text = translated(part.label, language)
    const item: QuestionnaireItem = {
      linkId: part.code,
      type: TYPES[part.kind],
      text: wordsIn(part.label, language),
      ...(_text && { _text }),
      extension,
    }
    if (part.shownWhen !== undefined) {
      const conditions = vocabulary && conditionsOf(part.shownWhen, vocabulary)
      if (conditions) Object.assign(item, conditions)
      else notCarried.push({ question: part.code, what: 'shownWhen', how: 'ownOnly' })
      extension.push(own('shownWhen', part.shownWhen))
    }
    if ('definition' in part) keep('definition', part.definition)
    switch (part.kind) {
      case 'section':
        item.item = part.parts.map(itemOf)
        break
      case 'note':
        break
      case 'repeat':
        item.repeats = true
        item.item = part.parts.map(itemOf)
        keep('most', part.most)
        break
      case 'table':
        item.item = part.columns.map(itemOf)
        keep('rows', part.rows)
        break
      default:
        answerInto(part, item, extension, keep, language)
    }
    return item
  }

  const _title = translated(form.name, language)
  return {
    resource: {
      resourceType: 'Questionnaire',
      status: 'draft',
      language,
      name: form.code,
      title: wordsIn(form.name, language),
      ...(_title && { _title }),
      ...(form.axes?.length && { extension: [own('axes', form.axes)] }),
      item: form.parts.map(itemOf),
    },
    notCarried,
  }
}

/** What a question with an answer adds to its item. */
function answerInto(
  question: AnswerQuestion,
  item: QuestionnaireItem,
  extension: Extension[],
  keep: (name: string, value: unknown) => void,
  language: string,
): void {
  if (question.required === 'always') item.required = true
  else keep('required', question.required)
  keep('acceptedIf', question.acceptedIf)
  keep('default', question.default)
  if ('longest' in question && question.longest) item.maxLength = question.longest
  if ('pattern' in question && question.pattern)
    extension.push({ url: STANDARD.pattern, valueString: question.pattern })
  if ('unitOfMeasure' in question && question.unitOfMeasure)
    extension.push({
      url: STANDARD.unit,
      valueCoding: { system: `${OWN}unit`, code: question.unitOfMeasure },
    })
  const bound = (url: string, value: number): Extension =>
    question.kind === 'wholeNumber' ? { url, valueInteger: value } : { url, valueDecimal: value }
  if ('least' in question && question.least !== undefined)
    extension.push(bound(STANDARD.least, question.least))
  if ('most' in question && question.most !== undefined) extension.push(bound(STANDARD.most, question.most))
  for (const name of ['axes', 'range', 'level', 'mostBytes', 'asTaken', 'list', 'cascade'] as const)
    keep(name, (question as unknown as Record<string, unknown>)[name])
  if ('choices' in question) {
    if (question.kind === 'severalOf') item.repeats = true
    item.answerOption = question.choices.map(({ code, label, under }) => {
      const _display = translated(label, language)
      return {
        valueCoding: { code, display: wordsIn(label, language), ...(_display && { _display }) },
        ...(under !== undefined && { extension: [own('under', under)] }),
      }
    })
  }
  if (question.kind === 'computed') {
    item.readOnly = true
    keep('expression', question.expression)
  }
}

/**
 * `enableWhen` of a condition that the standard can say: comparisons of answers with fixed values, all joined
 * alike.
 */
function conditionsOf(
  text: string,
  vocabulary: Vocabulary,
): Pick<QuestionnaireItem, 'enableWhen' | 'enableBehavior'> | null {
  const compiled = compile(text, vocabulary, 'truth')
  if (!compiled.ok) return null
  const { tree } = compiled.value
  const joint =
    tree.type === 'binary' && (tree.operator === 'and' || tree.operator === 'or') ? tree.operator : null
  const parts = joint ? flat(tree, joint) : [tree]
  const conditions = parts.map(part => conditionOf(part, vocabulary))
  if (conditions.some(condition => condition === null)) return null
  return {
    enableWhen: conditions.map(condition => condition!),
    ...(conditions.length > 1 && { enableBehavior: joint === 'or' ? 'any' : 'all' }),
  }
}

const flat = (node: Node, joint: string): Node[] =>
  node.type === 'binary' && node.operator === joint
    ? [...flat(node.left, joint), ...flat(node.right, joint)]
    : [node]

type Condition = NonNullable<QuestionnaireItem['enableWhen']>[number]

function conditionOf(node: Node, vocabulary: Vocabulary): Condition | null {
  if (node.type === 'name')
    return vocabulary.names.get(node.code)?.type === 'truth'
      ? { question: node.code, operator: '=', answerBoolean: true }
      : null
  if (
    node.type === 'not' &&
    node.operand.type === 'name' &&
    vocabulary.names.get(node.operand.code)?.type === 'truth'
  )
    return { question: node.operand.code, operator: '=', answerBoolean: false }
  const filled = (of: Node, answer: boolean): Condition | null =>
    of.type === 'call' && of.name === 'filled' && of.args[0]?.type === 'name'
      ? { question: of.args[0].code, operator: 'exists', answerBoolean: answer }
      : null
  if (
    node.type === 'call' &&
    node.name === 'includes' &&
    node.args[0]?.type === 'name' &&
    node.args[1]?.type === 'text'
  )
    return { question: node.args[0].code, operator: '=', answerCoding: { code: node.args[1].value } }
  if (node.type === 'not') return filled(node.operand, false)
  if (node.type === 'call') return filled(node, true)
  if (node.type !== 'binary' || node.left.type !== 'name') return null
  const operator = OPERATORS[node.operator]
  const name = vocabulary.names.get(node.left.code)
  if (!operator || !name) return null
  const { right } = node
  if (right.type === 'number') return { question: name.code, operator, answerDecimal: right.value }
  if (right.type === 'truth') return { question: name.code, operator, answerBoolean: right.value }
  if (right.type === 'call' && right.name === 'date' && right.args[0]?.type === 'text')
    return { question: name.code, operator, answerDate: right.args[0].value }
  if (right.type === 'text')
    return name.choices
      ? { question: name.code, operator, answerCoding: { code: right.value } }
      : { question: name.code, operator, answerString: right.value }
  return null
}
