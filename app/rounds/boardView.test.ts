import { describe, expect, it } from 'vitest'
import type { BoardRow } from '#core/contract/rounds'
import { arrangeBoard, isClean, type BoardView } from './boardView'

const row = (name: string, more: Partial<BoardRow> = {}): BoardRow => ({
  unit: { code: name.toLowerCase(), name },
  zone: { code: 'z1', name: 'North' },
  kind: 'health post',
  state: 'sent',
  sign: 'sent',
  lanterns: [],
  receivedAt: '2026-11-05T10:00:00Z',
  daysLate: 0,
  filled: 1,
  complete: true,
  onPaper: false,
  mustFix: 0,
  explain: 0,
  blocking: 0,
  late: 0,
  ...more,
})
const ROWS = [
  row('Élan Post', { zone: { code: 'z2', name: 'South' } }),
  row('Mill End', { state: 'accepted', sign: 'accepted', kind: 'hospital' }),
  row('Oak Hill', { blocking: 1, mustFix: 1, explain: 3 }),
  row('Ash Mill', { state: 'awaited', sign: 'overdue', receivedAt: null, filled: 0, complete: false }),
  row('Yew Bank', { explain: 4, complete: false, filled: 0.8, receivedAt: '2026-11-07T10:00:00Z' }),
]
const VIEW: BoardView = { group: 'none', sort: 'name', show: null, find: '' }
const names = (view: Partial<BoardView>) =>
  arrangeBoard(ROWS, { ...VIEW, ...view }).flatMap(({ rows }) => rows.map(({ unit }) => unit.name))

describe('a board as it is shown', () => {
  it('stands together by zone, by kind, or not', () => {
    const parts = (group: BoardView['group']) =>
      arrangeBoard(ROWS, { ...VIEW, group }).map(({ name, rows }) => `${name}: ${rows.length}`)
    expect(parts('zone')).toEqual(['North: 4', 'South: 1'])
    expect(parts('kind')).toEqual(['health post: 4', 'hospital: 1'])
    expect(parts('none')).toEqual([': 5'])
  })

  it('is sorted by what needs somebody first, and by names where rows are alike', () => {
    expect(names({ sort: 'name' })).toEqual(['Ash Mill', 'Élan Post', 'Mill End', 'Oak Hill', 'Yew Bank'])
    expect(names({ sort: 'state' })).toEqual(['Ash Mill', 'Élan Post', 'Oak Hill', 'Yew Bank', 'Mill End'])
    expect(names({ sort: 'doubts' }).slice(0, 2)).toEqual(['Oak Hill', 'Yew Bank'])
    expect(names({ sort: 'filled' }).slice(0, 2)).toEqual(['Ash Mill', 'Yew Bank'])
    expect(names({ sort: 'received' }).slice(0, 2)).toEqual(['Ash Mill', 'Yew Bank'])
  })

  it('shows those of a name, whatever its accents, and those of a state', () => {
    expect(names({ find: 'elan' })).toEqual(['Élan Post'])
    expect(names({ find: 'MILL' })).toEqual(['Ash Mill', 'Mill End'])
    expect(names({ show: 'overdue' })).toEqual(['Ash Mill'])
    expect(names({ show: 'toAccept' })).toEqual(['Élan Post', 'Yew Bank'])
    expect(names({ show: 'incomplete' })).toEqual(['Yew Bank'])
    expect(names({ show: 'onPaper', find: 'oak' })).toEqual([])
  })

  it('accepts what was sent and has nothing open', () => {
    expect(ROWS.filter(isClean).map(({ unit }) => unit.name)).toEqual(['Élan Post', 'Yew Bank'])
  })
})
