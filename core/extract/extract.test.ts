import { check } from '@placemarkio/check-geojson'
import { parse } from 'csv-parse/sync'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import { MEASLES_CASES, MEASLES_HOME_VISIT, MEASLES_REGISTRATION } from '../../demo/registers/measles'
import { WATER_VISIT } from '../../demo/registers/water-visit'
import type { ExtractDefinition } from '../contract/extracts'
import type { AnswerContent, Answers, AnswerValue } from '../form/answer'
import type { AnswerQuestion, Form, FormPart } from '../form/question'
import { must } from '../result'
import { ABOUT } from './about'
import { compileCondition } from './condition'
import type { ColumnSettings, ExtractRow } from './columns'
import { describeField } from './dictionary'
import { aboutFields, answerFields, type ExtractField } from './fields'
import { planExtract } from './sheets'
import { csvHead, csvRows, GEO_FRAME, geoFeature, jsonLines } from './write-text'

const words = (en: string) => ({ en, fr: `${en} (fr)` })
const form = (...parts: FormPart[]): Form => ({ code: 'form', name: {}, parts })
const number = (code: string): AnswerQuestion => ({ kind: 'wholeNumber', code, label: words(code) })
const text = (code: string): AnswerQuestion => ({ kind: 'text', code, label: words(code) })
const FISH: FormPart = {
  ...{ kind: 'severalOf', code: 'fish', label: words('Fish') },
  choices: [
    { code: 'cod', label: words('Cod') },
    { code: 'eel', label: words('Eel, smoked') },
  ],
}
const CHILDREN: FormPart = {
  ...{ kind: 'repeat', code: 'children', label: words('Children') },
  parts: [text('child_name'), number('child_age')],
}

const value = (of: AnswerValue): AnswerContent => ({ kind: 'value', value: of })
const SETTINGS: ColumnSettings = {
  ...{ heads: 'short', choices: 'label', several: 'columns', reasons: false, language: 'en' },
  unitName: code => `Unit ${code}`,
}
const fieldsOf = (of: Form, personal: string[] = []): ExtractField[] => {
  const answers = answerFields([{ edition: 1, form: of }], new Set(personal))
  return [...aboutFields(ABOUT.entry, answers), ...answers]
}
const plan = (
  of: Form,
  columns: (string | ExtractDefinition['columns'][number])[],
  settings: Partial<ColumnSettings> & Pick<ExtractDefinition, 'tables' | 'tableNames'> = {},
  personal: string[] = [],
  may = true,
) =>
  planExtract(
    {
      rows: 'entry',
      ...{ tables: settings.tables, tableNames: settings.tableNames },
      columns: columns.map(one => (typeof one === 'string' ? { key: one } : one)),
    },
    fieldsOf(of, personal),
    { ...SETTINGS, ...settings },
    may,
  )
const row = (answers: Answers, about: ExtractRow['about'] = { entry: 'e-1', unit: 'elm' }): ExtractRow => ({
  answers,
  about,
})
/** The first sheet as another library reads it. */
const readBack = (made: ReturnType<typeof plan>, rows: ExtractRow[]) =>
  parse(csvHead(made.sheets[0]!) + csvRows(made.sheets[0]!, rows), { bom: true }) as string[][]

describe('the fields of forms', () => {
  it('have each a path and a short code of their own', () => {
    const fields = answerFields([{ edition: 1, form: WATER_VISIT }])
    expect(fields.find(({ key }) => key === 'basins.latrines')).toMatchObject({
      ...{ path: 'water.rooms.basins.latrines', short: 'basins_latrines', type: 'number' },
      label: { en: 'Wash basins, Latrines' },
    })
    expect(new Set(fields.map(({ short }) => short)).size).toBe(fields.length)
    expect(
      answerFields([{ edition: 1, form: MEASLES_HOME_VISIT }]).find(
        ({ path }) => path === 'children.child_name',
      ),
    ).toMatchObject({ key: 'children/child_name', repeat: 'children', label: { fr: 'Nom' } })
    expect(answerFields([{ edition: 1, form: MEASLES_REGISTRATION }])).toHaveLength(24)
  })

  it('give way, put together, to a code that somebody wrote; and what is about the row gives way to a question', () => {
    const table: FormPart = {
      ...{ kind: 'table', code: 't', label: {} },
      rows: [{ code: 'x', name: {} }],
      columns: [number('a')],
    }
    const answers = answerFields([{ edition: 1, form: form(number('a_x'), table, number('unit')) }])
    expect(answers.map(({ short }) => short)).toEqual(['a_x', 'a_x_2', 'unit'])
    const about = aboutFields(ABOUT.report, answers)
    expect(about[0]).toMatchObject({ key: '@unit', short: 'row_unit' })
  })

  it('are one for a question of several editions, and keep one that only an older edition asked', () => {
    const old = form(number('weight'), number('gone'))
    const now = form(number('height'), number('weight'))
    const fields = answerFields([
      { edition: 2, form: now },
      { edition: 1, form: old },
    ])
    expect(fields.map(({ key, editions }) => [key, editions])).toEqual([
      ['height', [2]],
      ['weight', [2, 1]],
      ['gone', [1]],
    ])
  })
})

describe('the columns of a file', () => {
  it('are one for each choice of a question with several answers, or one list', () => {
    const rows = [row({ fish: value(['eel']) }), row({ fish: { kind: 'notKnown', reason: 'closed' } })]
    expect(readBack(plan(form(FISH), ['fish']), rows)).toEqual([
      ['fish_cod', 'fish_eel'],
      ['no', 'yes'],
      ['', ''],
    ])
    expect(readBack(plan(form(FISH), ['fish'], { several: 'list', heads: 'label' }), rows)).toEqual([
      ['Fish'],
      ['Eel, smoked'],
      [''],
    ])
    expect(readBack(plan(form(FISH), ['fish'], { choices: 'code', heads: 'path' }), rows)).toEqual([
      ['fish.cod', 'fish.eel'],
      ['false', 'true'],
      ['', ''],
    ])
  })

  it('keep zero, blank, not known and not offered apart', () => {
    const rows = [
      row({ a: value(0) }),
      row({}),
      row({ a: { kind: 'notKnown', reason: 'The page is torn.' } }),
      row({ a: { kind: 'notOffered' } }),
    ]
    expect(readBack(plan(form(number('a')), ['a'], { reasons: true }), rows)).toEqual([
      ['a', 'a_why'],
      ['0', ''],
      ['', ''],
      ['', 'The page is torn.'],
      ['', 'notOffered'],
    ])
  })

  it('are called as somebody named them, and never alike', () => {
    const named = plan(form(number('a'), number('b'), number('c')), [
      { key: 'b', name: 'Weight' },
      { key: 'a', name: 'Weight' },
      'c',
    ])
    expect(named.sheets[0]!.columns.map(({ head }) => head)).toEqual(['Weight', 'Weight_2', 'c'])
  })

  it('are left out, and named, where they are personal or nobody asks them', () => {
    const made = plan(form(text('name'), number('age')), ['name', 'age', 'gone'], {}, ['name'], false)
    expect(made.sheets[0]!.columns.map(({ head }) => head)).toEqual(['age'])
    expect(made.leftOut).toEqual([
      { key: 'name', why: 'personal' },
      { key: 'gone', why: 'unknown' },
    ])
  })

  it('name units in words, places in two numbers', () => {
    const place = form(
      { kind: 'unit', code: 'home', label: words('Home'), level: 4 },
      { kind: 'position', code: 'where', label: words('Where') },
    )
    const rows = [row({ home: value('elm'), where: value({ latitude: -3.25, longitude: 12.5 }) })]
    expect(readBack(plan(place, ['home', 'where']), rows)).toEqual([
      ['home', 'where_latitude', 'where_longitude'],
      ['Unit elm', '-3.25', '12.5'],
    ])
  })
})

describe('what repeats in a row', () => {
  const REPEATED = form(number('a'), CHILDREN)
  const answers = {
    a: value(1),
    children: value(['k2', 'k1']),
    'children/k1/child_name': value('Tavi'),
    'children/k1/child_age': value(3),
    'children/k2/child_name': value('Ila'),
  }

  it('is a table of its own with the key of the row, in the order in which it was filled', () => {
    const made = plan(REPEATED, ['@entry', 'a', 'children/child_age', 'children/child_name'])
    const [, inner] = made.sheets
    expect(inner!.repeat).toBe('children')
    expect(parse(csvHead(inner!) + csvRows(inner!, [row(answers)]), { bom: true })).toEqual([
      ['entry', 'number', 'child_age', 'child_name'],
      ['e-1', '1', '', 'Ila'],
      ['e-1', '2', '3', 'Tavi'],
    ])
  })

  it('is a list in its object', () => {
    const made = plan(REPEATED, ['@entry', 'a', 'children/child_name'])
    expect(JSON.parse(jsonLines(made.sheets, [row(answers)]))).toEqual({
      entry: 'e-1',
      a: 1,
      children: [
        { entry: 'e-1', number: 1, child_name: 'Ila' },
        { entry: 'e-1', number: 2, child_name: 'Tavi' },
      ],
    })
  })
})

describe('a table of the form', () => {
  const answers = {
    'basins.waiting': value(4),
    'basins.latrines': value(1),
    'soap.latrines': value(false),
  }
  const KEYS = ['@entry', 'visited_by', 'basins.waiting', 'soap.waiting', 'basins.latrines', 'soap.latrines']

  it('is a column for each of its places', () => {
    const made = plan(WATER_VISIT, KEYS)
    expect(made.sheets.length).toBe(1)
    expect(readBack(made, [row(answers)])[0]).toEqual([
      ...['entry', 'visited_by', 'basins_waiting', 'soap_waiting', 'basins_latrines', 'soap_latrines'],
    ])
  })

  it('or a sheet of its own, a row for each of its rows, with the key of what it belongs to', () => {
    const made = plan(WATER_VISIT, KEYS, { tables: 'sheets' })
    const [main, inner] = made.sheets
    expect(main!.columns.map(({ head }) => head)).toEqual(['entry', 'visited_by'])
    expect(inner!.repeat).toBe('rooms')
    expect(parse(csvHead(inner!) + csvRows(inner!, [row(answers)]), { bom: true })).toEqual([
      ['entry', 'row', 'row_name', 'basins', 'soap'],
      ['e-1', 'waiting', 'Waiting area', '4', ''],
      ['e-1', 'latrines', 'Latrines', '1', 'no'],
    ])
    expect(JSON.parse(jsonLines(made.sheets, [row(answers)]))).toMatchObject({
      rooms: [
        { row: 'waiting', basins: 4 },
        { row: 'latrines', soap: 'no' },
      ],
    })
  })

  it('has its columns in the order of the chosen places, under the names that they were given', () => {
    const [, inner] = plan(WATER_VISIT, ['@entry', 'soap.latrines', 'basins.waiting', 'basins.latrines'], {
      ...{ tables: 'sheets', tableNames: [{ key: 'rooms.soap', name: 'Is there soap?' }] },
    }).sheets
    expect(parse(csvHead(inner!) + csvRows(inner!, [row(answers)]), { bom: true })).toEqual([
      ['entry', 'row', 'row_name', 'Is there soap?', 'basins'],
      ['e-1', 'waiting', 'Waiting area', '', '4'],
      ['e-1', 'latrines', 'Latrines', 'no', '1'],
    ])
  })

  it('has in words what its columns are called in every row', () => {
    const [, inner] = plan(WATER_VISIT, ['@entry', 'basins.waiting'], {
      tables: 'sheets',
      heads: 'label',
    }).sheets
    expect(inner!.columns.map(({ head }) => head)).toEqual(['Entry', 'Row code', 'Row', 'Wash basins'])
  })
})

describe('texts in CSV', () => {
  const HARD = [
    '=1+1',
    '+44',
    '-3 days',
    '@home',
    '\tx',
    'a,b',
    'say "no"',
    'two\nlines',
    '\u05E9\u05DC\u05D5\u05DD',
  ]

  it('are defused where a spreadsheet would run them, and read back alike by two libraries', () => {
    const made = plan(form(text('a')), ['a'])
    const file =
      csvHead(made.sheets[0]!) +
      csvRows(
        made.sheets[0]!,
        HARD.map(one => row({ a: value(one) })),
      )
    const expected = [['a'], ...HARD.map(one => [/^[=+\-@\t]/.test(one) ? `'${one}` : one])]
    expect(parse(file, { bom: true })).toEqual(expected)
    expect(Papa.parse<string[]>(file.slice(1), { skipEmptyLines: true }).data).toEqual(expected)
  })

  it('leave numbers alone: minus three is a number', () => {
    expect(csvRows(plan(form(number('a')), ['a']).sheets[0]!, [row({ a: value(-3) })])).toBe('-3\r\n')
  })
})

describe('a map', () => {
  it('is GeoJSON (RFC 7946) by a linter: longitude first, and no geometry where nobody knows the place', () => {
    const where: FormPart = { kind: 'position', code: 'where', label: words('Where') }
    const { sheets } = plan(form(where, number('a')), ['a', 'where'])
    const rows = [
      row({ a: value(1), where: value({ latitude: -3.25, longitude: 12.5 }) }),
      row({ a: value(2) }),
    ]
    const file = GEO_FRAME[0] + rows.map(one => geoFeature(sheets, one)).join(',') + GEO_FRAME[1]
    expect(check(file)).toMatchObject({
      features: [
        { geometry: { type: 'Point', coordinates: [12.5, -3.25] }, properties: { a: 1 } },
        { geometry: null, properties: { a: 2 } },
      ],
    })
  })
})

describe('a condition on rows', () => {
  const forms = [{ edition: 1, form: form(number('age'), text('name'), FISH) }]
  const holds = (condition: string) =>
    must(compileCondition(condition, forms, new Set(), 0)).holds(
      [value(4), value(5), null, { kind: 'notKnown' as const, reason: 'x' }].map(age =>
        row(age ? { age } : {}),
      ),
    )

  it('takes the rows of which it is known to hold', () => {
    expect(holds('age < 5')).toEqual([true, false, false, false])
    expect(holds('not filled(age)')).toEqual([false, false, true, false])
  })

  it.each([
    ['age <', 'expression-'],
    ['agee < 5', 'expression-'],
    ['age + 1', 'expression-needs-truth'],
  ])('%s is refused, at its place', (condition, code) => {
    const made = compileCondition(condition, forms, new Set(), 0)
    expect(made).toMatchObject({ ok: false, problems: [{ at: 'filters/where' }] })
    expect(!made.ok && made.problems[0]!.code).toContain(code)
  })

  it('does not tell a personal answer letter by letter', () => {
    expect(compileCondition('name = "Tavi"', forms, new Set(['name']), 0)).toMatchObject({
      ok: false,
      problems: [{ code: 'extract-where-personal', values: { question: 'name' } }],
    })
  })
})

describe('the dictionary', () => {
  it('says of a question what is asked, of whom, and by which choices', () => {
    const fields = answerFields(
      MEASLES_CASES.forms.map(one => ({ edition: 1, form: one.form })),
      new Set(MEASLES_CASES.keeping!.personal),
    )
    const said = (key: string) =>
      describeField(
        fields.find(one => one.key === key)!,
        'en',
      )
    expect(said('sex')).toMatchObject({ kind: 'oneOf', choices: 'f = Female; m = Male', editions: '1' })
    expect(said('told_age')).toMatchObject({
      ...{ path: 'person.told_age', limits: '–120', unitOfMeasure: 'years' },
      condition: 'not filled(born_on)',
    })
    expect(said('age_years').expression).toBe('coalesce(years_between(born_on, rash_on), told_age)')
  })
})
