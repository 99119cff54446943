import { describe, expect, it } from 'vitest'
import { compile } from './compile'
import { EXAMPLE_VOCABULARY as vocabulary } from './worked-examples'

/**
 * What a person may get wrong: the code of the first message, the part of the text that it points at, and
 * words of the message.
 */
const CORPUS: [text: string, code: string, at: string, says: string][] = [
  // Something is missing or too much.
  ['', 'expression-expected-value', '', 'stops before it is complete'],
  ['   ', 'expression-expected-value', '', 'stops before it is complete'],
  ['live_births +', 'expression-expected-value', '', 'stops before it is complete'],
  ['* 3', 'expression-expected-value', '*', 'A name or a value should stand here'],
  ['live_births live_births', 'expression-trailing', 'live_births', 'does not follow'],
  ['live_births 3', 'expression-trailing', '3', 'does not follow'],
  ['(live_births', 'expression-expected', '', '“)” is missing'],
  ['live_births)', 'expression-trailing', ')', 'does not follow'],
  ['() > 3', 'expression-expected-value', ')', 'A name or a value'],
  ['live_births > and true', 'expression-expected-value', 'and', 'not “and”'],
  ['.5 > live_births', 'expression-expected-value', '.', 'A name or a value'],
  ['live_births > 1.2.3', 'expression-trailing', '.', 'does not follow'],
  ['deliveries[', 'expression-expected-band', '', 'code of a band'],
  ['deliveries[u20', 'expression-expected', '', '“]” is missing'],
  ['deliveries[3]', 'expression-expected-band', '3', 'code of a band'],
  ['weekly_diseases. > 3', 'expression-expected-name', '>', 'After the dot'],
  ['live_births between 1', 'expression-expected', '', '“and” is missing'],
  ['live_births in 1, 2', 'expression-expected', '1', '“(” is missing'],
  ['count() > 3', 'expression-expected-list', ')', 'case register'],
  ['count(measles_cases where) > 3', 'expression-expected-value', ')', 'A name or a value'],
  ['min(1, ) > 3', 'expression-expected-value', ')', 'A name or a value'],
  ['not', 'expression-expected-value', '', 'stops before'],
  ['true implies', 'expression-expected-value', '', 'stops before'],
  ['1 < live_births < 3', 'expression-chained', '<', 'two sides at a time'],
  ['where live_births > 3', 'expression-expected-value', 'where', 'A name or a value'],
  // Signs of other languages.
  ['live_births # 3', 'expression-sign', '#', 'no meaning'],
  ['live_births && true', 'expression-sign-near', '&&', 'Is and meant'],
  ['live_births == 3', 'expression-sign-near', '==', 'Is = meant'],
  ['live_births <> 3', 'expression-sign-near', '<>', 'Is != meant'],
  ['live_births ≤ 3', 'expression-sign-near', '≤', 'Is <= meant'],
  ['!true', 'expression-sign-near', '!', 'Is not meant'],
  ['live_births > 3; true', 'expression-sign', ';', 'no meaning'],
  ['village = "Eastfold', 'expression-text-open', '"Eastfold', 'closing quote'],
  ["village = 'Eastfold'", 'expression-sign-near', "'", 'Is " meant'],
  ['village = “Eastfold”', 'expression-sign-near', '“', 'Is " meant'],
  ['naïve > 3', 'expression-no-item', 'na', 'no item “na”'],
  // Names that nobody knows.
  ['delivries > 3', 'expression-no-item-near', 'delivries', 'Is “deliveries” meant?'],
  ['moonlight_sonata > 3', 'expression-no-item', 'moonlight_sonata', 'no item'],
  ['toString > 3', 'expression-no-item', 'toString', 'no item'],
  ['toString(1) > 3', 'expression-no-function', 'toString', 'no function'],
  ['mx(1, 2) > 3', 'expression-no-function-near', 'mx', 'Is “max” meant?'],
  ['deliveries[under20] > 3', 'expression-no-band', 'under20', 'no band of deliveries'],
  ['deliveries[u21] > 3', 'expression-no-band-near', 'u21', 'Is “u20” meant?'],
  ['live_births[u20] > 3', 'expression-no-band', 'u20', 'no band of live_births'],
  ['deliveries[u20, a20plus] > 3', 'expression-no-cell', 'deliveries[u20, a20plus]', 'No cell of deliveries'],
  [
    'weekly_disease.measles > 3',
    'expression-no-source-near',
    'weekly_disease',
    'Is “weekly_diseases” meant?',
  ],
  ['weekly_diseases.measels > 3', 'expression-no-item-near', 'measels', 'Is “measles” meant?'],
  ['count(measle_cases) > 3', 'expression-no-list-near', 'measle_cases', 'Is “measles_cases” meant?'],
  ['count(measles_cases where village = "x") > 3', 'expression-no-item', 'village', 'no item “village”'],
  // Types, units of measure, arguments.
  ['live_births and true', 'expression-needs-truth', 'live_births', 'must be yes or no'],
  ['live_births', 'expression-needs-truth', 'live_births', 'compare something'],
  ['(live_births > 3) + 1 > 2', 'expression-needs-number', 'live_births > 3', 'must be a number'],
  ['village > 3', 'expression-needs-number', 'village', 'must be a number or a day'],
  ['village = 3', 'expression-types-differ', '3', 'beside a text'],
  ['seen_on > 3', 'expression-types-differ', '3', 'beside a day'],
  ['classification = "confirmd"', 'expression-no-choice-near', '"confirmd"', 'Is “confirmed” meant?'],
  ['symptoms = symptoms', 'expression-answers', 'symptoms = symptoms', 'includes(answers'],
  [
    'doses_used + days_without > 3',
    'expression-measures',
    'days_without',
    'in days, but it stands beside doses',
  ],
  ['doses_used / days_without > live_births', 'expression-measures', 'live_births', 'beside doses / days'],
  ['abs() > 3', 'expression-arguments', 'abs()', 'takes 1 values'],
  ['abs(1, 2) > 3', 'expression-arguments', 'abs(1, 2)', 'not 2'],
  ['previous(live_births, 0) > 3', 'expression-periods', '0', 'from 1 to 60'],
  ['previous(live_births, live_births) > 3', 'expression-periods', 'live_births', 'from 1 to 60'],
  ['seen_on > date("2026-02-30")', 'expression-day', '"2026-02-30"', 'no day 2026-02-30'],
  ['matches(village, "(a")', 'expression-pattern', '"(a"', 'not closed'],
  [
    'count(measles_cases where count(measles_cases) > 1) > 3',
    'expression-count-in-count',
    'count',
    'inside another',
  ],
]

describe('mistakes', () => {
  it('has at least sixty of them', () => {
    expect(CORPUS.length).toBeGreaterThanOrEqual(60)
  })

  it.each(CORPUS)('“%s” is told as %s at “%s”', (text, code, at, says) => {
    const result = compile(text, vocabulary, 'truth')
    expect(result.ok).toBe(false)
    if (result.ok) return
    const problem = result.problems[0]!
    const place = problem.at as { start: number; end: number }
    expect({ code: problem.code, at: text.slice(place.start, place.end) }).toEqual({ code, at })
    expect(problem.message).toContain(says)
  })

  it.each([
    ['delivries > moonlight_sonata', ['expression-no-item-near', 'expression-no-item']],
    [
      '(live_births + ) > 3 and delivries[u20 = 2',
      ['expression-expected-value', 'expression-no-item-near', 'expression-expected'],
    ],
    ['live_births ! 3 and mx(1, 2) > "x"', ['expression-sign-near', 'expression-no-function-near']],
    ['village + 1 = 2 and not live_births', ['expression-needs-number', 'expression-needs-truth']],
    ['live_births > 3 3 and delivries > 1', ['expression-trailing', 'expression-no-item-near']],
    ['1 < delivries < mesles', ['expression-no-item-near', 'expression-chained', 'expression-no-item-near']],
  ])('reports more than one: %s', (text, codes) => {
    const result = compile(text, vocabulary, 'truth')
    expect(!result.ok && result.problems.map(({ code }) => code)).toEqual(codes)
  })

  it.each([
    ['brackets', '('.repeat(10_000), 'expression-too-long'],
    ['brackets', '('.repeat(1_999), 'expression-too-deep'],
    ['signs', `${'-'.repeat(1_900)}1`, 'expression-too-deep'],
    ['denials', `${'not '.repeat(400)}true`, 'expression-too-deep'],
    ['functions', `${'abs('.repeat(400)}1`, 'expression-too-deep'],
    ['implications', `${'true implies '.repeat(150)}true`, 'expression-too-deep'],
  ])('stops at too many %s', (_, text, code) => {
    expect(compile(text, vocabulary)).toMatchObject({ ok: false, problems: [{ code }] })
  })

  it('takes a long flat expression, and every message has a place', () => {
    expect(compile(`${'live_births + '.repeat(140)}1 > 2`, vocabulary, 'truth').ok).toBe(true)
    for (const [text] of CORPUS) {
      const result = compile(text, vocabulary, 'truth')
      if (result.ok) throw new Error(text)
      for (const { at } of result.problems)
        expect(at).toMatchObject({ start: expect.any(Number), end: expect.any(Number) })
    }
  })
})
