import type { Narrowing } from '../expression/bind'
import { compile } from '../expression/compile'
import { parse } from '../expression/parse'
import { scan } from '../expression/scan'
import { walk } from '../expression/syntax'
import { NOTHING, type Name, type ValueType, type Vocabulary } from '../expression/vocabulary'
import type { Problem } from '../result'
import { formProblem } from './check-form'
import type { Outline, Placed } from './outline'
import { TYPE_OF_KIND, type Form } from './question'

/** The names that expressions of a form may use. */
export interface FormVocabulary {
  /** Outside of repeats: the form's questions; its repeats can be counted. */
  whole: Vocabulary
  /** Inside a repeat, by its code: its own questions, and all outside. */
  inRepeat: ReadonlyMap<string, Vocabulary>
}

const unitOf = (question: Placed['question']): string | null =>
  question.kind === 'time' ? 'minutes' : 'unitOfMeasure' in question ? (question.unitOfMeasure ?? null) : null

const nameOf = ({ question, axes, cells }: Placed, type: ValueType): Name => ({
  code: question.code,
  label: question.label,
  type,
  unitOfMeasure: unitOf(question),
  axes,
  cells,
  ...('choices' in question && { choices: question.choices }),
})

/**
 * Makes the vocabulary of a form. What a computed answer is follows from its expression, which may use other
 * computed answers: they are typed one after the other, those that cannot be yet wait. Problems: those of the
 * expressions of computed answers, and `form-cycle` when they wait for each other.
 */
export function formVocabulary(
  form: Form,
  { placed, frames }: Outline,
  others: ReadonlyMap<string, Vocabulary> = NOTHING,
): { vocabulary: FormVocabulary; problems: Problem[] } {
  const problems: Problem[] = []
  const outside = new Map<string, Name>()
  const inside = new Map<string, Map<string, Name>>()
  for (const { part } of frames) if (part.kind === 'repeat') inside.set(part.code, new Map())
  const add = (one: Placed, type: ValueType) =>
    (one.repeat ? inside.get(one.repeat.code)! : outside).set(one.question.code, nameOf(one, type))

  const lists = new Map(
    [...inside].map(([code, names]): [string, Vocabulary] => {
      const label = frames.find(({ part }) => part.code === code)!.part.label
      return [code, { label, names, others: NOTHING, lists: NOTHING, noPeriods: true }]
    }),
  )
  const whole: Vocabulary = { label: form.name, names: outside, others, lists, noPeriods: true }
  const vocabularyFor = (one: Placed): Vocabulary =>
    one.repeat ? { ...whole, names: new Map([...outside, ...inside.get(one.repeat.code)!]) } : whole

  let waiting: Placed[] = []
  for (const one of placed) {
    if (one.question.kind === 'computed') waiting.push(one)
    else add(one, TYPE_OF_KIND[one.question.kind])
  }
  while (waiting.length) {
    const codes = new Set(waiting.map(({ question }) => question.code))
    const ready = waiting.filter(one => !namesIn(expressionOf(one)).some(code => codes.has(code)))
    if (!ready.length) {
      problems.push(
        formProblem(
          'form-cycle',
          waiting[0]!.question.code,
          `${[...codes].join(', ')} are computed from each other.`,
          { ring: [...codes].join(', ') },
        ),
      )
      break
    }
    for (const one of ready) {
      const compiled = compile(
        expressionOf(one),
        vocabularyFor(one),
        undefined,
        narrowingOf(one, one.cells[0]?.bands ?? []),
      )
      if (compiled.ok) add(one, compiled.value.type)
      else
        problems.push(
          ...compiled.problems.map(problem => ({
            ...problem,
            values: { ...problem.values, question: one.question.code },
          })),
        )
    }
    waiting = waiting.filter(one => !ready.includes(one))
  }
  const inRepeat = new Map(
    [...inside].map(([code, names]): [string, Vocabulary] => [
      code,
      { ...whole, names: new Map([...outside, ...names]) },
    ]),
  )
  return { vocabulary: { whole, inRepeat }, problems }
}

const expressionOf = ({ question }: Placed): string =>
  question.kind === 'computed' ? question.expression : ''

/** In a row of a table a name that says no row means this row. */
export const narrowingOf = ({ axes }: Placed, bands: readonly string[]): Narrowing =>
  axes[0] && bands[0] !== undefined ? [{ axis: axes[0].code, band: bands[0] }] : []

function namesIn(text: string): string[] {
  const { tokens, problems } = scan(text)
  const found: string[] = []
  walk(parse(tokens, problems).tree, node => {
    if (node.type === 'name') found.push(node.code)
  })
  return found
}
