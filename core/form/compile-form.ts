import type { Narrowing } from '../expression/bind'
import { compile, type Compiled } from '../expression/compile'
import { dependsOn } from '../expression/depends-on'
import type { ValueType, Vocabulary } from '../expression/vocabulary'
import type { Words } from '../report/edition'
import { bad, good, type Problem, type Result } from '../result'
import { kindsOfCells } from './answers-table'
import { checkOutline, formProblem } from './check-form'
import { formVocabulary, narrowingOf, type FormVocabulary } from './form-vocabulary'
import { orderOf } from './order'
import { outline, repeatKey, type Outline, type Placed } from './outline'
import type { Form, QuestionKind } from './question'

/**
 * One step of filling: a frame (section, note, table, repeat) that is shown or not, or a question with its
 * answers. Steps stand in an order in which each comes after all that its value depends on.
 */
export interface FormStep {
  code: string
  /** Present for a question. */
  placed?: Placed
  /** In a repeat the step is done for each instance. The repeat's own frame is outside. */
  repeat?: string
  /** The place of the frame right around it. */
  under?: number
  shownWhen?: Compiled
  /** Here and below one expression for each cell: in a row of a table names mean that row. */
  required?: 'always' | Compiled[]
  acceptedIf: { each: Compiled[]; message: Words }[]
  computed?: Compiled[]
  default?: Compiled[]
  /** Code of the question that narrows its choices. */
  cascade?: string
  /** Steps whose being shown, value or choices depend on this one. */
  feeds: number[]
  /** Steps whose being required or accepted depends on this one. */
  checks: number[]
}

/** A form ready to be filled. */
export interface CompiledForm {
  form: Form
  outline: Outline
  vocabulary: FormVocabulary
  steps: FormStep[]
  stepOf: ReadonlyMap<string, number>
  kindOf: ReadonlyMap<string, QuestionKind>
}

/** A step with the codes of all that it needs, before the steps have their order. */
interface Draft {
  step: FormStep
  under?: string
  valueNeeds: Set<string>
  checkNeeds: Set<string>
}

/**
 * Compiles a form, or says all that is wrong with it: the problems of its outline first; then those of its
 * expressions, with the question as `values.question`; then `form-cycle`, where answers depend on each other
 * in a ring.
 */
export function compileForm(form: Form, others?: ReadonlyMap<string, Vocabulary>): Result<CompiledForm> {
  const flat = outline(form)
  const misplaced = checkOutline(form, flat)
  if (misplaced.length) return bad(...misplaced)
  const { vocabulary, problems } = formVocabulary(form, flat, others)
  if (problems.length) return bad(...problems)
  const drafts = [
    ...flat.frames.map(frame => draftOfFrame(frame, vocabulary, problems)),
    ...flat.placed.map(placed => draftOfQuestion(placed, vocabulary, problems)),
  ]
  if (problems.length) return bad(...problems)
  return link(drafts, { form, outline: flat, vocabulary, kindOf: kindsOfCells(flat.placed) })
}

/**
 * Compiles one expression of a question, notes what it needs, and reports its mistakes with the question's
 * code.
 */
function read(
  text: string,
  wanted: ValueType | undefined,
  into: Pick<FormStep, 'code' | 'repeat'>,
  vocabulary: FormVocabulary,
  needs: Set<string>,
  problems: Problem[],
  narrowing?: Narrowing,
): Compiled | undefined {
  const compiled = compile(
    text,
    into.repeat ? vocabulary.inRepeat.get(into.repeat)! : vocabulary.whole,
    wanted,
    narrowing,
  )
  if (!compiled.ok) {
    problems.push(
      ...compiled.problems.map(problem => ({
        ...problem,
        values: { ...problem.values, question: into.code },
      })),
    )
    return undefined
  }
  const { items, lists, counted } = dependsOn(compiled.value)
  for (const code of [...items, ...lists, ...counted]) needs.add(code)
  return compiled.value
}

const draftOf = (step: Pick<FormStep, 'code' | 'placed' | 'repeat'>, under: string | undefined): Draft => ({
  step: { ...step, acceptedIf: [], feeds: [], checks: [] },
  under,
  valueNeeds: new Set(),
  checkNeeds: new Set(),
})

function draftOfFrame(
  { part, sections }: Outline['frames'][number],
  vocabulary: FormVocabulary,
  problems: Problem[],
): Draft {
  const draft = draftOf({ code: part.code }, sections.at(-1)?.code)
  if (part.shownWhen !== undefined)
    draft.step.shownWhen = read(part.shownWhen, 'truth', draft.step, vocabulary, draft.valueNeeds, problems)
  return draft
}

function draftOfQuestion(placed: Placed, vocabulary: FormVocabulary, problems: Problem[]): Draft {
  const { question, sections, table, repeat, cells } = placed
  const draft = draftOf(
    { code: question.code, placed, ...(repeat && { repeat: repeat.code }) },
    (table ?? repeat ?? sections.at(-1))?.code,
  )
  const { step, valueNeeds, checkNeeds } = draft
  const each = (text: string, wanted: ValueType | undefined, needs: Set<string>) =>
    cells.flatMap(
      ({ bands }) => read(text, wanted, step, vocabulary, needs, problems, narrowingOf(placed, bands)) ?? [],
    )

  if (question.shownWhen !== undefined)
    step.shownWhen = read(question.shownWhen, 'truth', step, vocabulary, valueNeeds, problems)
  if (question.kind === 'computed') step.computed = each(question.expression, undefined, valueNeeds)
  if (question.default !== undefined)
    step.default = each(question.default, typeIn(vocabulary, placed), valueNeeds)
  if (question.required !== undefined)
    step.required =
      question.required === 'always' ? 'always' : each(question.required.when, 'truth', checkNeeds)
  for (const { expression, message } of question.acceptedIf ?? [])
    step.acceptedIf.push({ each: each(expression, 'truth', checkNeeds), message })
  if ('cascade' in question && question.cascade !== undefined) {
    step.cascade = question.cascade
    valueNeeds.add(question.cascade)
  }
  return draft
}

const typeIn = (vocabulary: FormVocabulary, { question, repeat }: Placed): ValueType | undefined =>
  (repeat ? vocabulary.inRepeat.get(repeat.code) : vocabulary.whole)?.names.get(question.code)?.type

/** Puts the steps into their order and links each to those that depend on it. */
function link(
  drafts: readonly Draft[],
  compiled: Omit<CompiledForm, 'steps' | 'stepOf'>,
): Result<CompiledForm> {
  const codes = drafts.map(({ step }) => step.code)
  const place = new Map(codes.map((code, at) => [code, at]))
  const needsOf = ({ under, valueNeeds }: Draft) =>
    new Set(under === undefined ? valueNeeds : [under, ...valueNeeds])
  const found = orderOf(drafts.map(draft => [...needsOf(draft)].flatMap(code => place.get(code) ?? [])))
  if ('ring' in found) {
    const ring = found.ring
      .map(at => codes[at]!)
      .reverse()
      .join(' → ')
    return bad(
      formProblem('form-cycle', codes[found.ring[0]!]!, `${ring}: these answers depend on each other.`, {
        ring,
      }),
    )
  }
  const stepOf = new Map(found.order.map((draft, at) => [codes[draft]!, at]))
  const steps = found.order.map(draft => drafts[draft]!.step)
  for (const draft of drafts) {
    const at = stepOf.get(draft.step.code)!
    if (draft.under !== undefined) draft.step.under = stepOf.get(draft.under)!
    for (const needed of needsOf(draft)) if (stepOf.has(needed)) steps[stepOf.get(needed)!]!.feeds.push(at)
    for (const needed of draft.checkNeeds)
      if (stepOf.has(needed) && needed !== draft.step.code) steps[stepOf.get(needed)!]!.checks.push(at)
  }
  return good({ ...compiled, steps, stepOf })
}

/** The key of a question that is asked in the same instance of a repeat, or outside. */
export function keyFrom(
  { steps, stepOf }: CompiledForm,
  code: string,
  inside: { repeat: string; instance: string } | null,
): string {
  return inside && steps[stepOf.get(code)!]?.repeat === inside.repeat
    ? repeatKey(inside.repeat, inside.instance, code)
    : code
}
