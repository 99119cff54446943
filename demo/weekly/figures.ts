import type { CellMap } from '#core/report/table'
import type { Character } from '../monthly/figures'
import type { Random } from '../random'

/** The rains: from here on diarrhoea and dengue rise and fall over the year, the peak in week 20. */
const seasonOf = (week: number, swing: number) => 1 + swing * Math.cos(((week - 20) / 52) * 2 * Math.PI)

/**
 * The undisturbed report of one facility in one week: parts are drawn from their wholes, so that it breaks no
 * rule.
 * @param week of the year, from 1
 */
export function weeklyFigures({ size }: Character, week: number, random: Random): CellMap {
  const cells: Record<string, CellMap[string]> = {}
  const put = (key: string, value: number) => {
    cells[key] = { kind: 'value', value }
    return value
  }
  const rains = seasonOf(week, 0.35)
  for (const [age, share] of [
    ['u5', 0.6],
    ['a5plus', 0.4],
  ] as const) {
    put(`watery_diarrhoea.${age}`, random.poisson(2.6 * size * share * rains))
    put(`watery_diarrhoea_deaths.${age}`, 0)
    put(`bloody_diarrhoea.${age}`, random.poisson(0.4 * size * share))
    put(`measles.${age}`, random.poisson(0.12 * size * share))
    put(`measles_deaths.${age}`, 0)
  }
  const dengue = put('dengue', random.poisson(0.8 * size * seasonOf(week, 0.6)))
  const tested = put('dengue_tested', random.binomial(dengue, 0.7))
  put('dengue_confirmed', random.binomial(tested, 0.3))
  put('animal_bites', random.poisson(0.5 * size))
  put('neonatal_tetanus', 0)
  put('maternal_deaths_week', 0)
  return cells
}
