import type { CaseFile, Entry } from '#core/cases/fold'
import type { CaseLife } from '#core/cases/life'
import { followUp, type FollowUp } from '#core/cases/follow-up'
import type { CaseRegister } from '#core/cases/register'
import { TextFinder } from '#core/cases/text-finder'
import { placesOf } from '#core/define/form-parts'
import type { AnswerContent } from '#core/form/answer'
import { dayIn } from '#core/form/answer'
import { fold } from '#core/form/code'
import type { Form } from '#core/form/question'
import { UNITS_HERE, type Units } from '../units/useUnits'
import { useDeskStore, type StoredEntry, type WorkStore } from '../device/useDeskStore'
import { whenIdle } from '../common/whenIdle'
import { CaseIndex, type CaseMaker } from './useCaseIndex'

/** A case on this device: its line, its entries, what it still needs, and the text that a search looks in. */
export interface DeskCase {
  id: string
  register: string
  file: CaseFile
  entries: StoredEntry[]
  line: CasePart[]
  follow: FollowUp
  /** Which facility has it, and whether it is closed. */
  life: CaseLife
  /** Another facility has it now: here it is only seen. */
  isElsewhere: boolean
  sought: string
}

const DAY = 86_400_000
/** Fewer letters would find too much. */
const LEAST_LETTERS = 3

/** The cases of each store that is open; with it they are gone. */
const indexes = new WeakMap<WorkStore, CaseIndex<DeskCase>>()
function indexOf(store: WorkStore): CaseIndex<DeskCase> {
  const index = indexes.get(store) ?? new CaseIndex<DeskCase>(store)
  indexes.set(store, index)
  return index
}

/** The questions of a register by their code, made once. */
type Part = ReturnType<typeof placesOf>[number]['part']
const questions = new WeakMap<CaseRegister, ReadonlyMap<string, Part>>()
export function questionsOf(register: CaseRegister): ReadonlyMap<string, Part> {
  const known =
    questions.get(register) ??
    new Map(register.forms.flatMap(({ form }) => placesOf(form.parts)).map(({ part }) => [part.code, part]))
  questions.set(register, known)
  return known
}

/** A form of a register; one without questions where the register has no such form. */
export const formIn = (register: CaseRegister | null | undefined, form: string): Form =>
  register?.forms.find(one => one.form.code === form)?.form ?? { code: form, name: { en: form }, parts: [] }

/**
 * How an answer reads: a chosen code by its label, a place by its name, a day as a day. @param units where
 * the names of places are found.
 */
export function useAnswerText(units: Pick<Units, 'byCode'> | null = inject(UNITS_HERE, null)) {
  const words = useWords()
  const textOf = (register: CaseRegister, code: string, content: AnswerContent | undefined): string =>
    textOfAnswer(questionsOf(register).get(code), content)
  /** The same by the question itself; without one the answer is shown as it was given. */
  function textOfAnswer(question: Part | null | undefined, content: AnswerContent | undefined): string {
    if (content?.kind === 'notKnown') return words.t('cell.notKnown')
    if (content?.kind !== 'value') return ''
    const { value } = content
    const choices = question && 'choices' in question ? question.choices : null
    const labelOf = (chosen: unknown) => {
      const choice = choices?.find(one => one.code === chosen)
      return choice ? words.say(choice.label) : String(chosen)
    }
    if (Array.isArray(value)) return value.map(labelOf).join(', ')
    if (typeof value === 'boolean') return words.t(value ? 'answer.yes' : 'answer.no')
    if (typeof value === 'object') return 'latitude' in value ? words.position(value) : ''
    if (choices) return labelOf(value)
    if (question?.kind === 'unit') return units?.byCode.value.get(String(value))?.name ?? String(value)
    return question?.kind === 'date' || question?.kind === 'partialDate'
      ? words.partialDay(String(value))
      : words.value(value, 2)
  }
  /** The line of a case, as its register defines it. */
  const lineOf = (register: CaseRegister, known: (code: string) => AnswerContent | undefined): CasePart[] =>
    register.line.map(code => ({
      label: words.say(questionsOf(register).get(code)?.label ?? { en: code }),
      text: textOf(register, code, known(code)),
    }))
  /** What a case is called in a list: the first two parts of its line. */
  const titleOf = (line: readonly CasePart[]): string =>
    line
      .slice(0, 2)
      .map(part => part.text)
      .filter(Boolean)
      .join(' · ') || words.t('cases.unnamed')
  return { textOf, textOfAnswer, lineOf, titleOf }
}
/** One question of a case's line, with its answer as it reads. */
export interface CasePart {
  label: string
  text: string
}

/** An entry as the cases are folded from it: it happened when its form says, else when it was typed. */
export function entryOf(
  register: CaseRegister,
  entry: Pick<StoredEntry, 'id' | 'case' | 'form' | 'answers' | 'madeAt' | 'receivedAt' | 'corrects'>,
): Entry {
  const asked = register.forms.find(({ form }) => form.code === entry.form)?.eventDate
  const day = asked ? dayIn(entry.answers[asked]) : null
  return {
    id: entry.id,
    case: entry.case,
    form: entry.form,
    answers: entry.answers,
    happenedAt: day === null ? Date.parse(entry.madeAt) : day * DAY,
    receivedAt: Date.parse(entry.receivedAt ?? entry.madeAt),
    ...(entry.corrects && { corrects: entry.corrects }),
  }
}

/**
 * The cases of this device, folded from their entries, newest first; and the search in them.
 * @param isReady are the registers and the places here? What a case says is made of them.
 * @param isWaitedFor false only prepares them, while nothing else happens
 */
export function useCases(
  registers: () => ReadonlyMap<string, CaseRegister>,
  when: () => unknown,
  units: Pick<Units, 'byCode'>,
  isReady: () => boolean,
  isWaitedFor: boolean,
) {
  const store = useDeskStore()
  const { locale } = useI18n()
  const { textOf, lineOf, titleOf: titleOfLine } = useAnswerText(units)
  /** The branch of the person: a case of a unit outside of it is only seen here. */
  const branch = computed(() => useSession().view?.branch?.unit.code ?? null)
  function isBelow(unit: string, top: string): boolean {
    for (let at: string | null | undefined = unit; at; at = units.byCode.value.get(at)?.parent)
      if (at === top) return true
    return false
  }

  function make(file: CaseFile, entries: StoredEntry[], life: CaseLife | null): DeskCase {
    const register = registers().get(entries[0]!.register)!
    const text = (code: string) => textOf(register, code, file.values.get(code)?.content)
    const line = lineOf(register, code => file.values.get(code)?.content)
    const sought = [
      ...line.map(part => part.text),
      ...[register.identity.name, ...register.identity.identifiers].flatMap(code =>
        code ? [text(code)] : [],
      ),
    ]
    const now = life ?? { unit: entries[0]!.unit, moves: [], closed: null }
    const isElsewhere = branch.value !== null && !isBelow(now.unit, branch.value)
    return {
      id: file.case,
      register: register.code,
      file,
      entries,
      line,
      follow: followUp(register, file, isElsewhere || now.closed !== null),
      life: now,
      isElsewhere,
      sought: fold(sought.join(' ')),
    }
  }
  /** What is made of a case stays the same as long as this does. */
  const key = computed(() =>
    JSON.stringify([locale.value, branch.value, units.byCode.value.size, [...registers()]]),
  )
  const maker = (): CaseMaker<DeskCase> => ({
    key: key.value,
    entryOf: entry => {
      const register = registers().get(entry.register)
      return register ? entryOf(register, entry) : null
    },
    make,
  })
  const load = useLoad(
    async () => (isReady() ? indexOf(store).update(maker(), isWaitedFor) : null),
    () => [when(), key.value, isReady()],
  )
  const all = computed<DeskCase[]>(() => load.data.value ?? [])

  let finder: { of: readonly DeskCase[]; texts: TextFinder } | undefined
  const finderNow = () => {
    if (finder?.of !== all.value)
      finder = { of: all.value, texts: new TextFinder(all.value.map(one => one.sought)) }
    return finder.texts
  }
  // Made before somebody seeks: the first letter that finds something should not wait for it.
  if (isWaitedFor)
    watch(all, async () => {
      await whenIdle()
      finderNow()
    })

  /** What was found last: a text that goes on from it finds some of the same. */
  let last = { in: [] as readonly DeskCase[], text: '', found: [] as DeskCase[] }
  /** Cases in which all parts of a text stand; accents and case do not count. */
  function find(text: string): DeskCase[] {
    const folded = fold(text.trim())
    const parts = folded.split(/\s+/).filter(part => part.length >= LEAST_LETTERS)
    const found = parts.length ? withAll(parts, folded) : all.value
    last = { in: all.value, text: folded, found }
    return found
  }
  function withAll(parts: readonly string[], folded: string): DeskCase[] {
    // What was found by fewer letters than are needed is everything: there is nothing to go on from.
    const goesOn = last.in === all.value && last.found !== all.value && folded.startsWith(last.text)
    if (goesOn) return last.found.filter(one => parts.every(part => one.sought.includes(part)))
    return finderNow()
      .find(parts)
      .map(at => all.value[at]!)
  }

  const titleOf = (one: DeskCase): string => titleOfLine(one.line)
  return { load, all, find, titleOf, lineOf, titleOfLine }
}
