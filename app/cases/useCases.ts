import { groupBy } from '#core/group-by'
import { foldCases, type CaseFile, type Entry } from '#core/cases/fold'
import { followUp, type FollowUp } from '#core/cases/follow-up'
import type { CaseRegister } from '#core/cases/register'
import { placesOf } from '#core/define/form-parts'
import type { AnswerContent } from '#core/form/answer'
import { dayOf } from '#core/form/answer'
import { fold } from '#core/form/code'
import type { Form } from '#core/form/question'
import { UNITS_HERE, type Units } from '../units/useUnits'
import { useDeskStore, type StoredEntry, type WorkStore } from '../device/useDeskStore'

/** A case on this device: its line, its entries, what it still needs, and the text that a search looks in. */
export interface DeskCase {
  id: string
  register: string
  file: CaseFile
  entries: StoredEntry[]
  line: CasePart[]
  follow: FollowUp
  sought: string
}

const DAY = 86_400_000
/** Fewer letters would find too much. */
const LEAST_LETTERS = 3

/** Opened entries, so that each is opened once: what is inside never changes, only how far it has got. */
const opened = new WeakMap<WorkStore, Map<string, StoredEntry>>()
async function entriesOf(store: WorkStore): Promise<StoredEntry[]> {
  const known = opened.get(store) ?? new Map<string, StoredEntry>()
  opened.set(store, known)
  const rows = await store.entries.raw.toArray()
  const entries = await Promise.all(
    rows.map(async row => {
      const had = known.get(row.id as string)
      // Why an entry was refused stands inside: that one is opened again.
      return had && row.state !== 'refused'
        ? {
            ...had,
            state: row.state as StoredEntry['state'],
            receivedAt: row.receivedAt as string | undefined,
          }
        : store.entries.opened(row)
    }),
  )
  known.clear()
  for (const entry of entries) known.set(entry.id, entry)
  return entries
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
  const content = asked ? entry.answers[asked] : undefined
  const day = content?.kind === 'value' && typeof content.value === 'string' ? dayOf(content.value) : null
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

/** The cases of this device, folded from their entries, newest first; and the search in them. */
export function useCases(
  registers: () => ReadonlyMap<string, CaseRegister>,
  when: () => unknown,
  units?: Pick<Units, 'byCode'>,
) {
  const store = useDeskStore()
  const load = useLoad(() => entriesOf(store), when)

  const { textOf, lineOf, titleOf: titleOfLine } = useAnswerText(units)

  const all = computed<DeskCase[]>(() => {
    const known = (load.data.value ?? []).filter(({ register }) => registers().has(register))
    const byCase = groupBy(known, entry => entry.case)
    const files = foldCases(known.map(entry => entryOf(registers().get(entry.register)!, entry)))
    return files
      .map((file): DeskCase => {
        const entries = byCase.get(file.case)!
        const register = registers().get(entries[0]!.register)!
        const text = (code: string) => textOf(register, code, file.values.get(code)?.content)
        const line = lineOf(register, code => file.values.get(code)?.content)
        const sought = [
          ...line.map(part => part.text),
          ...[register.identity.name, ...register.identity.identifiers].flatMap(code =>
            code ? [text(code)] : [],
          ),
        ]
        return {
          id: file.case,
          register: register.code,
          file,
          entries,
          line,
          follow: followUp(register, file),
          sought: fold(sought.join(' ')),
        }
      })
      .sort(
        (one, other) =>
          (other.file.entries.at(-1)?.happenedAt ?? 0) - (one.file.entries.at(-1)?.happenedAt ?? 0),
      )
  })

  /** Cases in which all parts of a text stand; accents and case do not count. */
  function find(text: string): DeskCase[] {
    const parts = fold(text.trim())
      .split(/\s+/)
      .filter(part => part.length >= LEAST_LETTERS)
    return parts.length ? all.value.filter(one => parts.every(part => one.sought.includes(part))) : all.value
  }

  const titleOf = (one: DeskCase): string => titleOfLine(one.line)
  return { load, all, find, titleOf, lineOf, titleOfLine }
}
