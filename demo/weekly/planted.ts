import type { Planted } from '../report'

/** Week 45: it falls due on the day on which the demo plays. */
export const PLANTED_WEEK = 'weekly_diseases~2026-W45'

const slip = (kind: Planted['kind'], unit: string, key: string, spoil: Planted['spoil']): Planted => ({
  kind,
  round: PLANTED_WEEK,
  unit,
  key,
  spoil,
})

/** A maternal death that the week tells of and the month does not. */
export const TOLD_IN_THE_WEEK = {
  round: 'weekly_diseases~2026-W42',
  unit: 'tolben',
  cell: 'maternal_deaths_week',
}

export const WEEKLY_PLANTED: readonly Planted[] = [
  // Two columns were exchanged: the deaths stand where the cases belong.
  slip('partAboveWhole', 'weir_street', 'rule:measles_deaths_within:u5', () => ({
    'measles.u5': 0,
    'measles_deaths.u5': 2,
  })),
  slip('partAboveWhole', 'tanner_hill', 'rule:dengue_confirmed_within', of => ({
    dengue_confirmed: of('dengue_tested') + 2,
  })),
  slip('partAboveWhole', 'gull_rock', 'rule:dengue_tested_within', of => ({
    dengue_tested: of('dengue') + 3,
  })),
  slip('jump', 'larch_house', 'rule:diarrhoea_jump', () => ({
    'watery_diarrhoea.u5': 31,
    'watery_diarrhoea.a5plus': 26,
  })),
  slip('jump', 'brook_end', 'rule:measles_cluster', () => ({ 'measles.u5': 9, 'measles.a5plus': 5 })),
  slip('partAboveWhole', 'hazelbury', 'rule:measles_deaths_within:a5plus', () => ({
    'measles.a5plus': 0,
    'measles_deaths.a5plus': 1,
  })),
  slip('partAboveWhole', 'barrow_down', 'rule:dengue_confirmed_within', of => ({
    dengue_confirmed: of('dengue_tested') + 1,
  })),
  slip('rareEvent', 'lantern_quay', 'rule:tetanus_seen', () => ({ neonatal_tetanus: 1 })),
]
