import type { CellContent, CellValue } from '#core/report/cell'
import type { CellMap } from '#core/report/table'
import { printDay } from '#core/calendar/day'
import type { Kind } from '../places'
import type { Random } from '../random'

/** What stands in one facility; it changes little from quarter to quarter. */
export interface Equipment {
  autoclaves: number
  microscopes: number
  concentrators: number
  /** Day number of the last service of an autoclave. */
  servedOn: number
  bought: number
}

const AUTOCLAVES: Record<Kind, number> = {
  hospital: 3,
  'health centre': 1,
  'maternity home': 1,
  dispensary: 0,
  'health post': 0,
}

export const equipmentOf = (kind: Kind, firstDay: number, random: Random): Equipment => ({
  autoclaves: AUTOCLAVES[kind] || +(random.share() < 0.3),
  microscopes: kind === 'hospital' ? 4 : kind === 'health centre' ? 2 : +(random.share() < 0.4),
  concentrators: kind === 'hospital' ? 5 : kind === 'maternity home' ? 1 : +(random.share() < 0.4),
  servedOn: firstDay - random.whole(20, 400),
  bought: random.whole(2009, 2022),
})

const WHY_NOT = ['The seal is torn.', 'The heating coil is burnt.', 'No spare fuse.', 'It leaks at the lid.']

/**
 * The undisturbed report of one facility in one quarter. A service moves the day in `equipment` on.
 * @param lastDay day number of the quarter's end
 */
export function equipmentFigures(equipment: Equipment, kind: Kind, lastDay: number, random: Random): CellMap {
  const cells: Record<string, CellContent> = {}
  const put = (cell: string, value: CellValue) => {
    cells[cell] = { kind: 'value', value }
  }
  const { autoclaves, microscopes, concentrators } = equipment
  put('autoclaves', autoclaves)
  let works = false
  if (autoclaves) {
    works = random.share() < (kind === 'hospital' ? 0.97 : 0.8)
    put('autoclave_works', works)
    if (!works) put('autoclave_why_not', WHY_NOT[random.whole(0, WHY_NOT.length - 1)]!)
    if (random.share() < 0.35) equipment.servedOn = lastDay - random.whole(5, 80)
    put('autoclave_served_on', printDay(equipment.servedOn))
  }
  put('sterile_by', works ? 'autoclave' : random.share() < 0.5 ? 'boiling' : 'elsewhere')
  put('microscopes', microscopes)
  const lamps = microscopes ? Math.max(1, random.binomial(microscopes, 0.85)) : 0
  if (microscopes) put('microscopes_working', lamps)
  put('tests_done', [
    ...(lamps ? ['malaria'] : []),
    'haemoglobin',
    'urine',
    'pregnancy',
    ...(lamps > 1 ? ['tuberculosis'] : []),
  ])
  put('concentrators', concentrators)
  if (concentrators) {
    const give = Math.max(1, random.binomial(concentrators, 0.8))
    put('concentrators_working', give)
    put('oxygen_purity', 88 + random.whole(0, 70) / 10)
    put('oldest_bought', String(equipment.bought))
  }
  put('power_backup', kind === 'hospital' || random.share() < 0.55)
  return cells
}
