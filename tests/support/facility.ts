import { v7 as uuid } from 'uuid'
import type { CellChange, DeskChange, DeskOutcome } from '#core/contract/desk'
import type { CellValue } from '#core/report/cell'
import type { Correction } from '#core/contract/discrepancies'
import type { Access } from '../../server/access/access'
import { nowText } from '../../server/clock'
import { makeCard } from '../../server/desk/cards'
import { deviceByToken, type Device } from '../../server/desk/devices'
import { pairDevice } from '../../server/desk/pair'
import { applySent } from '../../server/desk/send'
import { personOf } from './installation'
import { CARD_SETTINGS } from './samples'

/** The district refused a change of a facility's device. */
export class ChangeRefused extends Error {
  constructor(readonly code: string) {
    super(code)
  }
}

const devices = new Map<string, Promise<Device>>()

/** A new device of a facility, with the person at it. */
export async function pairAt(unit: string, access: Access): Promise<Device> {
  const card = { name: `Phone of ${unit}`, unit, settings: CARD_SETTINGS, uses: 1, days: 1 }
  const { code } = await makeCard(personOf('administrator', null), card)
  const { token } = await pairDevice({ code }, unit)
  return deviceByToken(token, { access })
}

/** The device of a facility, paired at its first use. */
function deviceOf(unit: string, access: Access): Promise<Device> {
  const device = devices.get(unit) ?? pairAt(unit, access)
  devices.set(unit, device)
  return device
}

/** Sends changes from the device of the person's facility, as every device does. */
export async function sendChanges(access: Access, changes: readonly DeskChange[]): Promise<DeskOutcome[]> {
  const device = await deviceOf(access.branch!, access)
  return applySent(access, device, { clockOffset: 0, changes })
}

/** @throws ChangeRefused with the code of the first refusal. */
async function mustBeTaken(access: Access, changes: readonly DeskChange[]): Promise<DeskOutcome[]> {
  const outcomes = await sendChanges(access, changes)
  const refused = outcomes.find(({ outcome }) => outcome === 'refused')
  if (refused) throw new ChangeRefused(refused.code!)
  return outcomes
}

const made = () => ({ id: uuid(), madeAt: nowText() })

/** Values of cells, some with the version that they are made on; null is a blank. */
export type CellValues = Record<string, CellValue | null | { value: CellValue | null; base: number }>

/** Changes cells of a report. @throws ChangeRefused */
export const fillReport = (
  access: Access,
  round: string,
  unit: string,
  values: CellValues,
  more: Partial<Pick<CellChange, 'why' | 'id'>> = {},
): Promise<DeskOutcome[]> =>
  mustBeTaken(
    access,
    Object.entries(values).map(([cell, given]): DeskChange => {
      const { value, base } =
        typeof given === 'object' && given !== null && 'base' in given ? given : { value: given, base: 0 }
      const content = value === null ? { kind: 'blank' as const } : { kind: 'value' as const, value }
      return { kind: 'cell', ...made(), round, unit, cell, base, content, ...more }
    }),
  )

/** Sends a report. @throws ChangeRefused */
export const sendReport = (
  access: Access,
  round: string,
  unit: string,
  explanations: Record<string, string> = {},
): Promise<DeskOutcome[]> => mustBeTaken(access, [{ kind: 'send', ...made(), round, unit, explanations }])

/** Answers a question of the officer. @throws ChangeRefused */
export const answerQuestion = (
  access: Access,
  discrepancy: string,
  text: string,
  corrections: Correction[] = [],
): Promise<DeskOutcome[]> =>
  mustBeTaken(access, [{ kind: 'answer', ...made(), discrepancy, text, corrections }])
