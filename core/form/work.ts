import { printDay } from '../calendar/day'
import type { Compiled } from '../expression/compile'
import { evaluateRow } from '../expression/evaluate-row'
import { BLANK, isAnswered } from '../report/cell'
import type { Words } from '../report/edition'
import type { ColumnTable, CountedList } from '../report/table'
import type { AnswerContent } from './answer'
import { answersTable } from './answers-table'
import { keepUnder } from './choices'
import { keyFrom, type CompiledForm, type FormStep } from './compile-form'
import type { Filling, FillingOptions, FillingStep } from './filling'
import { repeatKey, splitKey } from './outline'

/** One instance of a repeat, or null outside of repeats. */
type Inside = { repeat: string; instance: string } | null

function same(one: AnswerContent = BLANK, other: AnswerContent = BLANK): boolean {
  if (one === other) return true
  if (one.kind !== other.kind) return false
  if (one.kind === 'value' && other.kind === 'value' && typeof one.value !== 'object')
    return one.value === other.value
  return JSON.stringify(one) === JSON.stringify(other)
}

/**
 * For each step the instances for which it must be done; '' outside of repeats. Most steps are not due at
 * all.
 */
type Due = (Set<string> | undefined)[]

/**
 * The work of one act: steps that depend on a change are done, each once and in order, on a copy of what they
 * alter.
 */
export class Work {
  private readonly next: Filling
  private readonly copied = new Set<keyof Filling>()
  private readonly due: Due = []
  private readonly dueChecks: Due = []
  private readonly cleared: FillingStep['cleared'] = []
  private readonly recomputed: string[] = []
  /** Instances by repeat, those that a change takes away among them: their answers are to be cleared. */
  private readonly instances = new Map<string, readonly string[]>()

  constructor(
    private readonly form: CompiledForm,
    from: Filling,
    private readonly options: FillingOptions,
  ) {
    this.next = { ...from }
  }

  /**
   * A part of the filling to write into: copied when it is altered first, because most acts alter one or two
   * parts.
   */
  private own<Part extends 'touched' | 'hidden' | 'missing'>(part: Part): Set<string>
  private own(part: 'refused'): Map<string, readonly Words[]>
  private own(part: 'answers' | 'computed'): Map<string, AnswerContent>
  private own(part: keyof Filling): unknown {
    if (!this.copied.has(part)) {
      this.copied.add(part)
      const from = this.next[part]
      Object.assign(this.next, {
        [part]: from instanceof Set ? new Set(from) : new Map(from as ReadonlyMap<string, unknown>),
      })
    }
    return this.next[part]
  }

  private flag(part: 'touched' | 'hidden' | 'missing', key: string, on: boolean): void {
    if (this.next[part].has(key) === on) return
    if (on) this.own(part).add(key)
    else this.own(part).delete(key)
  }

  /**
   * Puts in an answer of a person. Keys that the form does not have are left out: they have no place in it.
   */
  put(key: string, content: AnswerContent): void {
    const inside = splitKey(key)
    const at = this.form.stepOf.get((inside?.cell ?? key).split('.')[0]!)
    const step = at === undefined ? undefined : this.form.steps[at]!
    const isRepeat = step !== undefined && !step.placed && this.form.vocabulary.inRepeat.has(step.code)
    if (
      at === undefined ||
      !step ||
      (step.repeat ?? null) !== (inside?.repeat ?? null) ||
      (!step.placed && !isRepeat) ||
      step.computed
    )
      return
    if (isRepeat) {
      const before = this.idsOf(step.code)
      const after = content.kind === 'value' ? (content.value as readonly string[]) : []
      this.instances.set(step.code, [...new Set([...before, ...after])])
      this.instances
        .get(step.code)!
        .filter(id => before.includes(id) !== after.includes(id))
        .forEach(id => this.comeOrGo(step.code, id))
    }
    this.set(key, content)
    this.flag('touched', key, true)
    this.mark(this.due, at, inside?.instance ?? '')
    this.spread(at, inside)
  }

  /** Every step is due: when a form is opened. */
  everything(): void {
    this.form.steps.forEach((step, at) => this.instancesOf(step).forEach(id => this.markBoth(at, id)))
  }

  /** All steps of an instance are due: it was put in, or taken away. */
  private comeOrGo(repeat: string, id: string): void {
    this.form.steps.forEach((step, at) => {
      if (step.repeat === repeat) this.markBoth(at, id)
    })
  }

  private markBoth(at: number, id: string): void {
    this.mark(this.due, at, id)
    if (this.form.steps[at]!.placed) this.mark(this.dueChecks, at, id)
  }

  done(): FillingStep {
    // Doing a step makes later ones due, never an earlier one: `length` grows while this goes on.
    for (let at = 0; at < this.due.length; at++)
      this.due[at]?.forEach(id => this.doStep(at, this.insideOf(at, id)))
    this.dueChecks.forEach((ids, at) =>
      ids?.forEach(id => this.check(this.form.steps[at]!, this.insideOf(at, id))),
    )
    return { filling: this.next, cleared: this.cleared, recomputed: this.recomputed }
  }

  private insideOf(at: number, id: string): Inside {
    const { repeat } = this.form.steps[at]!
    return repeat === undefined ? null : { repeat, instance: id }
  }

  private idsOf(repeat: string): readonly string[] {
    const content = this.next.answers.get(repeat)
    return content?.kind === 'value' ? (content.value as readonly string[]) : []
  }

  private instancesOf(step: FormStep): readonly string[] {
    return step.repeat === undefined ? [''] : (this.instances.get(step.repeat) ?? this.idsOf(step.repeat))
  }

  private mark(due: Due, at: number, id: string): void {
    ;(due[at] ??= new Set()).add(id)
  }

  /**
   * A step changed: what depends on it is due, in the same instance, or in all when it reaches into a repeat.
   */
  private spread(from: number, inside: Inside): void {
    const step = this.form.steps[from]!
    const reach = (due: Due, at: number) => {
      const other = this.form.steps[at]!
      const ids = inside && other.repeat === inside.repeat ? [inside.instance] : this.instancesOf(other)
      ids.forEach(id => this.mark(due, at, id))
    }
    step.feeds.forEach(at => reach(this.due, at))
    step.checks.forEach(at => reach(this.dueChecks, at))
    if (step.placed) this.mark(this.dueChecks, from, inside?.instance ?? '')
  }

  private key(code: string, inside: Inside): string {
    return inside ? repeatKey(inside.repeat, inside.instance, code) : code
  }

  private read(key: string): AnswerContent | undefined {
    return this.next.computed.get(key) ?? this.next.answers.get(key)
  }

  private set(key: string, content: AnswerContent): void {
    if (isAnswered(content)) this.own('answers').set(key, content)
    else if (this.next.answers.has(key)) this.own('answers').delete(key)
  }

  private doStep(at: number, inside: Inside): void {
    const step = this.form.steps[at]!
    const own = this.key(step.code, inside)
    this.recomputed.push(own)
    const around = step.under === undefined ? undefined : this.form.steps[step.under]!
    const gone = inside !== null && !this.idsOf(inside.repeat).includes(inside.instance)
    const shown =
      !gone &&
      !(around && this.next.hidden.has(around.code)) &&
      (!step.shownWhen || this.truth(step.shownWhen, inside) === 1)
    const changed = this.next.hidden.has(own) === shown
    this.flag('hidden', own, !shown && !gone)
    // Its instances are still to be cleared after the list of them is.
    if (!shown && !step.placed)
      this.instances.set(step.code, this.instances.get(step.code) ?? this.idsOf(step.code))
    const valuesChanged = step.placed ? this.doCells(step, inside, shown) : !shown && this.clear(own)
    if (changed || valuesChanged) this.spread(at, inside)
  }

  /**
   * The cells of a question: cleared when it does not apply, else computed, narrowed, or filled with a
   * default.
   */
  private doCells(step: FormStep, inside: Inside, shown: boolean): boolean {
    let changed = false
    step.placed!.cells.forEach((cell, at) => {
      const key = this.key(cell.key, inside)
      const before = this.read(key)
      if (!shown) this.clear(key)
      else if (step.computed) this.compute(key, this.value(step.computed[at]!, inside))
      else {
        if (step.cascade !== undefined) this.narrow(step, key, inside)
        if (step.default && !this.next.touched.has(key)) this.set(key, this.value(step.default[at]!, inside))
      }
      if (!same(before, this.read(key))) changed = true
    })
    return changed
  }

  private compute(key: string, content: AnswerContent): void {
    if (!same(this.next.computed.get(key), content)) this.own('computed').set(key, content)
  }

  private clear(key: string): boolean {
    const content = this.next.answers.get(key)
    if (content && this.next.touched.has(key)) this.cleared.push({ key, content })
    this.set(key, BLANK)
    if (this.next.computed.has(key)) this.own('computed').delete(key)
    this.flag('touched', key, false)
    return content !== undefined
  }

  private narrow(step: FormStep, key: string, inside: Inside): void {
    const content = this.next.answers.get(key)
    if (!content) return
    const above = this.read(keyFrom(this.form, step.cascade!, inside))
    const narrowed = keepUnder(step.placed!.question, content, above, this.options.unitWithin ?? (() => true))
    if (narrowed === null) this.clear(key)
    else if (narrowed !== content) {
      this.cleared.push({ key, content })
      this.set(key, narrowed)
    }
  }

  private check(step: FormStep, inside: Inside): void {
    const applies =
      !this.next.hidden.has(this.key(step.code, inside)) &&
      !(inside && !this.idsOf(inside.repeat).includes(inside.instance))
    const required = (at: number) =>
      applies &&
      step.required !== undefined &&
      (step.required === 'always' || this.truth(step.required[at]!, inside) === 1)
    step.placed!.cells.forEach((cell, at) => {
      const key = this.key(cell.key, inside)
      const blank = !isAnswered(this.read(key))
      this.flag('missing', key, blank && required(at))
      const messages =
        applies && !blank
          ? step.acceptedIf
              .filter(({ each }) => this.truth(each[at]!, inside) === 0)
              .map(({ message }) => message)
          : []
      if (messages.length) this.own('refused').set(key, messages)
      else if (this.next.refused.has(key)) this.own('refused').delete(key)
    })
  }

  private truth(compiled: Compiled, inside: Inside): number | null {
    return evaluateRow(compiled, this.table(inside), 0, this.options) as number | null
  }

  private value(compiled: Compiled, inside: Inside): AnswerContent {
    const value = evaluateRow(compiled, this.table(inside), 0, this.options)
    if (value === null) return BLANK
    if (compiled.type === 'truth') return { kind: 'value', value: value === 1 }
    return {
      kind: 'value',
      value: compiled.type === 'day' && typeof value === 'number' ? printDay(value) : value,
    }
  }

  /** The answers as one row: those of an instance before those outside. */
  private table(inside: Inside): ColumnTable {
    const innerCode = (cell: string) =>
      inside !== null && this.form.steps[this.form.stepOf.get(cell.split('.')[0]!)!]?.repeat === inside.repeat
    const read = (_row: number, cell: string) => this.read(innerCode(cell) ? this.key(cell, inside) : cell)
    return answersTable(1, read, this.form.kindOf, { list: code => this.list(code) })
  }

  /** The instances of a repeat, to be counted. */
  private list(repeat: string): CountedList | undefined {
    if (this.next.hidden.has(repeat))
      return { table: answersTable(0, () => undefined, this.form.kindOf), rowOf: new Int32Array(0) }
    const ids = this.idsOf(repeat)
    return {
      table: answersTable(
        ids.length,
        (row, cell) => this.read(repeatKey(repeat, ids[row]!, cell)),
        this.form.kindOf,
      ),
      rowOf: new Int32Array(ids.length),
    }
  }
}
