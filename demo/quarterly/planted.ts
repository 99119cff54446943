import type { Planted } from '../report'

export const PLANTED_QUARTER = 'equipment~2026-Q3'

const slip = (kind: Planted['kind'], unit: string, key: string, spoil: Planted['spoil']): Planted => ({
  kind,
  round: PLANTED_QUARTER,
  unit,
  key,
  spoil,
})

export const EQUIPMENT_PLANTED: readonly Planted[] = [
  slip('partAboveWhole', 'tolben', 'rule:microscopes_within', of => ({
    microscopes_working: of('microscopes') + 2,
  })),
  slip('answersExclude', 'quillan', 'rule:autoclave_to_sterilise', () => ({
    autoclave_works: false,
    autoclave_why_not: 'No technician has come since June.',
    sterile_by: 'autoclave',
  })),
  slip('impossibleDays', 'sorrel', 'rule:served_before_the_end', () => ({
    autoclave_served_on: '2026-10-12',
  })),
  slip('partAboveWhole', 'hazelbury', 'rule:microscopes_within', of => ({
    microscopes_working: of('microscopes') + 1,
  })),
  slip('impossibleDays', 'kestrel', 'rule:served_before_the_end', () => ({
    autoclave_served_on: '2026-11-02',
  })),
  slip('neededLeftBlank', 'lantern_quay', 'rule:needed.autoclave_works', () => ({
    autoclaves: 1,
    autoclave_works: null,
    autoclave_why_not: null,
  })),
]
