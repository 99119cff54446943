import type { CaseRegister } from '#core/cases/register'
import { foldCase } from '#core/cases/fold'
import { followUp } from '#core/cases/follow-up'
import type { AnswerValue } from '#core/form/answer'
import { entryOf, type DeskCase } from '../../app/cases/useCases'

/** A case that one registration of a facility made, as a device has it. */
export function caseOnDevice(
  register: CaseRegister,
  id: string,
  unit: string,
  values: Record<string, AnswerValue>,
): DeskCase {
  const entry = {
    id: `e${id}`,
    case: id,
    state: 'received' as const,
    register: register.code,
    edition: 1,
    form: register.forms[0]!.form.code,
    unit,
    madeAt: '2026-10-05T08:00:00Z',
    receivedAt: '2026-10-05T09:00:00Z',
    answers: Object.fromEntries(
      Object.entries(values).map(([key, value]) => [key, { kind: 'value' as const, value }]),
    ),
  }
  const file = foldCase(id, [entryOf(register, entry)])
  return {
    id,
    register: register.code,
    file,
    entries: [entry],
    line: [],
    follow: followUp(register, file, false),
    life: { unit, moves: [], closed: null },
    isElsewhere: false,
    sought: '',
  }
}
