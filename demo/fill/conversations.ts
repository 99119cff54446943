interface Line {
  by: string
  act: 'asked' | 'answered'
  at: string
  text: string
}

/** A doubt that officer and facility talk about; its last line says whose turn it is. */
export interface Conversation {
  unit: string
  /** The key of the doubt. */
  key: string
  lines: Line[]
}

const asked = (officer: string, at: string, text: string): Line => ({
  by: `officer.${officer}`,
  act: 'asked',
  at,
  text,
})
const answered = (unit: string, at: string, text: string): Line => ({
  by: `clerk.${unit}`,
  act: 'answered',
  at,
  text,
})

export const CONVERSATIONS: readonly Conversation[] = [
  {
    unit: 'lowgate',
    key: 'rule:births_within_deliveries',
    lines: [
      asked(
        'ashmere',
        '2026-11-06T18:20:00Z',
        'Could the boys be written the wrong way round? Please check the delivery book.',
      ),
    ],
  },
  {
    unit: 'mallow_creek',
    key: 'rule:doses_within_used',
    lines: [
      asked(
        'ashmere',
        '2026-11-07T13:05:00Z',
        'More doses given than vials opened. Is the stock card up to date?',
      ),
      answered(
        'mallow_creek',
        '2026-11-08T09:58:00Z',
        'The stock card was not filled in the last two weeks. I will count again on Tuesday.',
      ),
    ],
  },
  {
    unit: 'tolben',
    key: 'rule:caesareans_within_deliveries',
    lines: [asked('tolben_vale', '2026-11-07T14:10:00Z', 'Which of the two did the theatre book say?')],
  },
  {
    unit: 'weir_street',
    key: 'range:new_visits.a15plus.m',
    lines: [
      asked(
        'tolben_vale',
        '2026-11-07T14:22:00Z',
        'Ten times as many men as in September: is a zero too many?',
      ),
      answered('weir_street', '2026-11-08T11:40:00Z', 'Yes, I see it now. I will correct it this morning.'),
    ],
  },
  {
    unit: 'quillan',
    key: 'rule:autoclave_to_sterilise',
    lines: [
      asked(
        'quillan_isles',
        '2026-11-05T12:30:00Z',
        'The autoclave does not work, and is used all the same?',
      ),
      answered('quillan', '2026-11-06T09:15:00Z', 'We use that of the maternity ward until ours is mended.'),
    ],
  },
  {
    unit: 'lantern_quay',
    key: 'rule:stock_balances:combined',
    lines: [
      asked(
        'quillan_isles',
        '2026-11-08T15:05:00Z',
        'Thirty doses more than there can be: what does the card say?',
      ),
    ],
  },
  {
    unit: 'chalk_hill',
    key: 'rule:syphilis_within_tested',
    lines: [
      asked(
        'sorrel_downs',
        '2026-11-07T16:45:00Z',
        'One positive more than tests. Please look at the sheet.',
      ),
    ],
  },
]
