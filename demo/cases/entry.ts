import type { EntryMade } from '#core/contract/desk'
import type { AnswerValue } from '#core/form/answer'
import { beginFilling } from '#core/form/fill'
import { compileForm, type CompiledForm } from '#core/form/compile-form'
import { answersOf } from '#core/form/filling'
import type { Form } from '#core/form/question'
import { must } from '#core/result'
import { DEMO_NOW } from '../report'
import type { Random } from '../random'
import type { DemoDevice } from './devices'
import { identifierOf } from './identifier'

/** An entry of the scenario: as a device made it, and when the district received it. */
export interface DemoEntry {
  device: DemoDevice
  receivedAt: string
  entry: EntryMade
}

const MS_A_DAY = 86_400_000
/** The last day on which anything can have happened. */
export const LAST_DAY = Math.floor(Date.parse(DEMO_NOW) / MS_A_DAY) - 1

const compiledForms = new Map<Form, CompiledForm>()
function compiled(form: Form): CompiledForm {
  const known = compiledForms.get(form)
  if (known) return known
  const made = must(compileForm(form))
  compiledForms.set(form, made)
  return made
}

type Given = Record<string, AnswerValue | undefined>

/** What is written down: a form of a case, on a day, on a device. */
export interface Writing {
  register: string
  edition: number
  form: Form
  /** What the case is called, for its identifier. */
  case: string
  parent?: string
  device: DemoDevice
  /** The facility, where it is not the device's own. */
  unit?: string
  /** The day (a day number) on which it is typed. */
  day: number
  answers: Given
  /** What the entry is called, where the case has more than one of this form. */
  as?: string
  /** What the entry is called that this one corrects. */
  corrects?: string
  /** What came before it: it is not received before that. */
  after?: DemoEntry
}

const nameOfEntry = ({ case: of, form, as }: Pick<Writing, 'case' | 'form' | 'as'>) =>
  `entry ${of} ${form.code} ${as ?? ''}`.trimEnd()

/** When the district hears of it: soon where there is a network, days later where there is none. */
function received(madeAt: number, random: Random): number {
  const share = random.share()
  const minutes = share < 0.6 ? random.whole(1, 180) : share < 0.85 ? random.whole(600, 1_700) : 0
  return madeAt + (minutes ? minutes * 60_000 : random.whole(2, 9) * MS_A_DAY)
}

/**
 * Fills a form as the desk does: by the same code, so that nothing is in the demo that the product would not
 * take. @returns null for what still waits on a device that was not heard since.
 * @throws Error when an answer is missing, refused, or to a question that is not asked.
 */
export function write(writing: Writing, random: Random): DemoEntry | null {
  const { register, edition, form, device, day } = writing
  const answers = Object.fromEntries(
    Object.entries(writing.answers).flatMap(([key, value]) =>
      value === undefined ? [] : [[key, { kind: 'value' as const, value }]],
    ),
  )
  const { filling, cleared } = beginFilling(compiled(form), answers, { today: day })
  if (cleared.length || filling.missing.size || filling.refused.size)
    throw new Error(
      `${nameOfEntry(writing)}: ${JSON.stringify({ cleared, missing: [...filling.missing], refused: [...filling.refused] })}`,
    )
  const madeAt = day * MS_A_DAY + random.whole(10 * 60, 18 * 60) * 60_000
  const before = writing.after ? Date.parse(writing.after.receivedAt) : 0
  const receivedAt = Math.max(received(madeAt, random), before)
  if (receivedAt > Date.parse(device.lastContactAt)) return null
  return {
    device,
    receivedAt: new Date(receivedAt).toISOString(),
    entry: {
      kind: 'entry',
      id: identifierOf(nameOfEntry(writing)),
      madeAt: new Date(madeAt).toISOString(),
      case: identifierOf(`case ${writing.case}`),
      register,
      edition,
      form: form.code,
      unit: writing.unit ?? device.unit,
      answers: answersOf(filling),
      ...(writing.parent && { parent: identifierOf(`case ${writing.parent}`) }),
      ...(writing.corrects !== undefined && {
        corrects: identifierOf(nameOfEntry({ ...writing, as: writing.corrects })),
      }),
    },
  }
}
