import ExcelJS from 'exceljs'
import fc from 'fast-check'
import { Fhir } from 'fhir'
import { parse as parseCsv } from 'csv-parse/sync'
import { SaxesParser } from 'saxes'
import { describe, expect, it } from 'vitest'
import { parseInterval } from '../calendar/interval'
import { must } from '../result'
import { parsePeriod } from '../calendar/period-text'
import { isAttributeName, readAdx, writeAdx } from '../exchange/adx'
import { writeCsv } from '../exchange/csv'
import { readMeasureReports, writeMeasureReports } from '../exchange/measure-reports'
import { readReportSheet } from '../exchange/report-sheet'
import { documentRows, isValueTable, readValueTable } from '../exchange/value-table'
import {
  documentText,
  readJsonDocument,
  writeJsonDocument,
  type DocumentGroup,
  type ValueDocument,
} from '../exchange/value-document'
import type { CellValue } from '../report/cell'
import type { Edition } from '../report/edition'
import { codeLacks, neededCodes, turned, type CodeBook } from './codes'
import { cellFinder, documentOf, theirPlaceKey } from './document'
import { documentSheet } from './read-document'

const words = (en: string) => ({ en })
const item = (code: string, more: object) => ({
  ...{
    code,
    name: words(code),
    definition: words(''),
    unitOfMeasure: '',
    rollUp: 'sum',
    range: null,
    axes: [],
  },
  ...more,
})
const EDITION = {
  ...{ dataset: 'clinic', number: 1, name: words('Clinic'), frequency: 'month', rules: [], indicators: [] },
  axes: [
    { code: 'age', name: words('Age'), bands: [band('u5'), band('o5')] },
    { code: 'sex', name: words('Sex'), bands: [band('f'), band('m')] },
  ],
  sections: [
    {
      ...{ code: 'all', name: words('All') },
      items: [
        item('visits', { kind: 'wholeNumber', axes: ['age', 'sex'] }),
        item('stock', { kind: 'decimal' }),
        item('fridge', { kind: 'yesNo', rollUp: 'counts' }),
        item('remarks', { kind: 'text', rollUp: 'none' }),
      ],
    },
  ],
} as unknown as Edition
function band(code: string) {
  return { code, name: words(code) }
}
const CYCLE = { frequency: 'month' } as const
const PERIOD = must(parsePeriod('2026-10'))
const CODES: CodeBook = {
  dataset: new Map([['clinic', 'DS-7']]),
  item: new Map<string, string | null>([
    ['visits', 'OPD'],
    ['stock', 'STK'],
    ['fridge', 'FRG'],
    ['remarks', null],
  ]),
  axis: new Map([
    ['age', 'AgeGroup'],
    ['sex', 'Sex'],
  ]),
  band: new Map([
    ['age.u5', '0-4'],
    ['age.o5', '5+'],
    ['sex.f', 'F'],
    ['sex.m', 'M'],
  ]),
  unit: new Map<string, string | null>([
    ['elm', '1001'],
    ['oak', '1002'],
    ['ash', null],
  ]),
}
const CELLS = {
  elm: { 'visits.u5.f': 3, 'visits.o5.m': 0, stock: 2.5, fridge: true, remarks: 'none' },
  oak: { 'visits.u5.m': 12 },
  ash: { stock: 1 },
}
const NOW = '2026-11-09T10:45:00Z'
const sent = (format: 'adx' | 'fhir' = 'adx') =>
  documentOf({ edition: EDITION, period: PERIOD, format }, CELLS, CODES, NOW)
const all = [...neededCodes(EDITION), ...['elm', 'oak', 'ash'].map(ours => ({ kind: 'unit' as const, ours }))]
/** All formats but FHIR give texts back: values are compared as texts. */
const asTexts = ({ groups }: ValueDocument) =>
  groups.map(({ values, ...group }) => ({
    ...group,
    values: values.map(value => ({ ...value, value: documentText(value.value) })),
  }))
const codeOf = (read: { ok: boolean; problems?: { code: string }[] }) =>
  read.ok ? null : read.problems![0]!.code

describe('codes of a receiver', () => {
  it('are needed for the dataset, its items, the axes in use and their bands', () => {
    expect(neededCodes(EDITION).map(({ kind, ours }) => `${kind} ${ours}`)).toEqual([
      ...['dataset clinic', 'item visits', 'item stock', 'item fridge', 'item remarks'],
      ...['axis age', 'axis sex', 'band age.u5', 'band age.o5', 'band sex.f', 'band sex.m'],
    ])
  })

  it('lack nothing when each is there, or left out on purpose', () => {
    expect(codeLacks(all, CODES, 'adx').size).toBe(0)
  })

  it('lack one that is missing, two that are the same, and an axis that cannot be an attribute', () => {
    const codes: CodeBook = {
      ...CODES,
      item: new Map([...CODES.item].filter(([ours]) => ours !== 'stock')).set('fridge', 'OPD'),
      axis: new Map([
        ['age', 'Age group'],
        ['sex', 'value'],
      ]),
    }
    expect(Object.fromEntries(codeLacks(all, codes, 'adx'))).toEqual({
      ...{ 'item stock': 'missing', 'item visits': 'twice', 'item fridge': 'twice' },
      ...{ 'axis age': 'form', 'axis sex': 'form' },
    })
    // Only attributes have such names; and one band may be called as one of another axis.
    expect(codeLacks(all, { ...codes, band: new Map(CODES.band).set('sex.f', '0-4') }, 'json').size).toBe(3)
  })

  it('can be read backwards, bands under the axis that they belong to', () => {
    const { band: bands, unit } = turned(CODES)
    expect([bands.get('Sex.F'), bands.get('AgeGroup.5+'), unit.get('1002')]).toEqual([
      'sex.f',
      'age.o5',
      'oak',
    ])
    expect([...unit.values()]).toEqual(['elm', 'oak'])
  })
})

describe('the document', () => {
  it('holds the values under their codes, without what is left out, and finds each place again', () => {
    const { document, values, leftOut } = sent()
    expect(document.groups.map(({ orgUnit, values }) => [orgUnit, values.length])).toEqual([
      ['1001', 4],
      ['1002', 1],
    ])
    expect(document.groups[0]).toMatchObject({ dataSet: 'DS-7', period: '2026-10-01/P1M' })
    expect(document.groups[0]!.values[0]).toEqual({
      ...{ dataElement: 'OPD', value: 3 },
      axes: { AgeGroup: '0-4', Sex: 'F' },
    })
    // The remark, and the facility that is left out.
    expect(leftOut).toBe(2)
    expect(values).toBe(5)
    const cellOf = cellFinder(EDITION, CODES)
    expect(cellOf({ dataElement: 'OPD', axes: { Sex: 'F', AgeGroup: '0-4' } })).toBe('visits.u5.f')
    expect(cellOf({ dataElement: 'OPD', axes: { Sex: 'F' } })).toBeNull()
    expect(cellOf({ dataElement: 'visits', axes: { sex: 'f', age: 'u5' } })).toBeNull()
  })

  it('holds numbers only where the format measures, and says how many answers stay', () => {
    const { document, noNumbers } = sent('fhir')
    expect(noNumbers).toBe(1)
    expect(document.groups[0]!.values.map(({ dataElement }) => dataElement)).toEqual(['OPD', 'OPD', 'STK'])
  })

  it('can be a part of it', () => {
    const { document } = documentOf(
      { edition: EDITION, period: PERIOD, format: 'adx' },
      ...([CELLS, CODES, NOW] as const),
      ({ unit, cell }) => unit === 'elm' && cell === 'stock',
    )
    expect(document.groups).toMatchObject([{ orgUnit: '1001', values: [{ dataElement: 'STK', value: 2.5 }] }])
  })
})

/** Texts as people write them, with what each format must escape. */
const text = fc
  .string({ unit: 'grapheme', minLength: 1, maxLength: 8 })
  .map(one => one.replace(/\p{Cc}|\p{Cs}/gu, '') || 'x')
const code = fc.constantFrom('OPD', 'a&b', '<x>', '"q"', "it's", 'été', 'مرکز', '1001', 'x y')
const group = fc.record({
  dataSet: code,
  period: fc.constantFrom('2026-10-01/P1M', '2026-09-01/P1M'),
  orgUnit: code,
  values: fc.uniqueArray(
    fc.record({
      dataElement: code,
      axes: fc.dictionary(fc.constantFrom('age', 'sex', 'Age_group'), code, {
        maxKeys: 2,
        noNullPrototype: true,
      }),
      value: fc.oneof(
        fc.integer(),
        fc.boolean(),
        text,
        text.map(one => `${one}\n\t"${one}"`),
      ) as fc.Arbitrary<CellValue>,
    }),
    {
      minLength: 1,
      maxLength: 4,
      selector: ({ dataElement, axes }) => theirPlaceKey({ orgUnit: '', dataElement, axes }),
    },
  ),
})
const documents = fc
  .uniqueArray(group, {
    minLength: 1,
    maxLength: 4,
    selector: ({ dataSet, period, orgUnit }) => `${dataSet} ${period} ${orgUnit}`,
  })
  .map((groups): ValueDocument => ({ exported: NOW, groups }))

/** Reads ADX with another library: saxes, which keeps to the XML 1.0 recommendation. */
function readBySaxes(xml: string): DocumentGroup[] {
  const groups: (DocumentGroup & { values: DocumentGroup['values'][number][] })[] = []
  const parser = new SaxesParser({ xmlns: true })
  parser.on('error', error => {
    throw error
  })
  parser.on('opentag', ({ local, uri, attributes }) => {
    expect(uri).toBe('urn:ihe:qrph:adx:2015')
    const own = Object.fromEntries(Object.entries(attributes).map(([name, { value }]) => [name, value]))
    if (local === 'group')
      groups.push({ dataSet: own.dataSet!, period: own.period!, orgUnit: own.orgUnit!, values: [] })
    if (local === 'dataValue') {
      const { dataElement, value, ...axes } = own
      groups.at(-1)!.values.push({ dataElement: dataElement!, value: value!, axes })
    }
  })
  parser.write(xml).close()
  return groups
}

describe('ADX', () => {
  it('has the elements and attributes of the profile (IHE QRPH, from memory)', () => {
    expect(writeAdx(sent().document)).toBe(`<?xml version="1.0" encoding="UTF-8"?>
<adx xmlns="urn:ihe:qrph:adx:2015" exported="2026-11-09T10:45:00Z">
  <group orgUnit="1001" period="2026-10-01/P1M" dataSet="DS-7">
    <dataValue dataElement="OPD" value="3" AgeGroup="0-4" Sex="F"/>
    <dataValue dataElement="OPD" value="0" AgeGroup="5+" Sex="M"/>
    <dataValue dataElement="STK" value="2.5"/>
    <dataValue dataElement="FRG" value="true"/>
  </group>
  <group orgUnit="1002" period="2026-10-01/P1M" dataSet="DS-7">
    <dataValue dataElement="OPD" value="12" AgeGroup="0-4" Sex="M"/>
  </group>
</adx>
`)
  })

  it('is well-formed, and says the same to another library (saxes) and to ours', () => {
    fc.assert(
      fc.property(documents, document => {
        const xml = writeAdx(document)
        expect(readBySaxes(xml)).toEqual(asTexts(document))
        expect(asTexts(must(readAdx(xml)))).toEqual(asTexts(document))
      }),
      { numRuns: 200 },
    )
  })

  it('is read with a prefix, and with single groups', () => {
    const xml = `<?xml version="1.0"?><a:adx xmlns:a="urn:ihe:qrph:adx:2015" exported="x"><a:group orgUnit="1"
      period="2026-10-01/P1M" dataSet="D"><a:dataValue dataElement="OPD" value="7"/></a:group></a:adx>`
    expect(must(readAdx(xml)).groups).toMatchObject([{ orgUnit: '1', values: [{ value: '7', axes: {} }] }])
  })

  it('is refused with the place when it is broken, has a document type, or lacks something', () => {
    const read = (xml: string) => codeOf(readAdx(xml))
    expect(read('<adx><group></adx>')).toBe('xml-broken')
    expect(read('<!DOCTYPE a [<!ENTITY b SYSTEM "file:///etc/passwd">]><adx>&b;</adx>')).toBe('xml-doctype')
    expect(read('<other/>')).toBe('adx-none')
    expect(read('<adx/>')).toBe('document-empty')
    expect(read('<adx><group orgUnit="1" dataSet="D"/></adx>')).toBe('document-part')
    expect(read('<adx><group orgUnit="1" period="p" dataSet="D"><dataValue value="1"/></group></adx>')).toBe(
      'document-part',
    )
    expect(['age', 'Age group', 'value', 'xmlns', '5+'].filter(isAttributeName)).toEqual(['age'])
  })
})

describe('FHIR', () => {
  const names = { sender: 'North', units: new Map([['1001', 'Elm']]) }
  const write = () => writeMeasureReports(sent('fhir').document, CYCLE, names)

  it('is a bundle that a validator passes without a warning (the fhir package, with HL7’s definitions of R4)', () => {
    const { valid, messages } = new Fhir().validate(JSON.parse(write()))
    expect(messages.filter(({ severity }) => severity !== 'info').slice(0, 5)).toEqual([])
    expect(valid).toBe(true)
  })

  it('says the same numbers when it is read', () => {
    const { groups } = must(readMeasureReports(write()))
    expect(groups).toEqual(sent('fhir').document.groups)
  })

  it('is refused when it is no bundle, or a report has no place or no period of any kind', () => {
    const read = (more: object) =>
      codeOf(
        readMeasureReports(
          JSON.stringify({
            resourceType: 'Bundle',
            entry: [{ resource: { resourceType: 'MeasureReport', ...more } }],
          }),
        ),
      )
    const good = {
      subject: { reference: 'Location/1' },
      measure: 'http://x/m',
      period: { start: '2026-10-01', end: '2026-10-31' },
    }
    expect(read(good)).toBeNull()
    expect(read({ ...good, subject: {} })).toBe('document-part')
    expect(read({ ...good, period: { start: '2026-10-01', end: '2026-10-30' } })).toBe('document-part')
    expect(codeOf(readMeasureReports('{}'))).toBe('fhir-no-bundle')
    expect(codeOf(readMeasureReports('{"resourceType":"Bundle"}'))).toBe('document-empty')
  })
})

describe('JSON, CSV and XLSX', () => {
  it('are read again as they were written', () => {
    fc.assert(
      fc.property(documents, document => {
        expect(must(readJsonDocument(writeJsonDocument(document)))).toEqual(document)
        const rows = parseCsv(writeCsv(documentRows(document))) as unknown as string[][]
        expect(rows).toHaveLength(1 + document.groups.flatMap(({ values }) => values).length)
      }),
    )
  })

  it('come back from a workbook with their numbers', async () => {
    const book = new ExcelJS.Workbook()
    book.addWorksheet('Values').addRows(documentRows(sent().document))
    const back = new ExcelJS.Workbook()
    await back.xlsx.load((await book.xlsx.writeBuffer()) as never)
    const rows = (back.worksheets[0]!.getSheetValues() as unknown[][]).slice(1).map((values, at) => ({
      number: at + 1,
      values: Array.from(values.slice(1), value => (value === '' ? null : (value ?? null))) as (
        string | number
      )[],
    }))
    expect(isValueTable({ name: 'Values', rows })).toBe(true)
    expect(asTexts(must(readValueTable({ name: 'Values', rows })))).toEqual(asTexts(sent().document))
  })

  it('are refused with the place when something is missing', () => {
    const row = (number: number, ...values: string[]) => ({ number, values })
    const head = row(1, 'dataSet', 'period', 'orgUnit', 'dataElement', 'value')
    const table = (...rows: ReturnType<typeof row>[]) =>
      codeOf(readValueTable({ name: 'a', rows: [head, ...rows] }))
    expect(table()).toBe('document-empty')
    expect(table(row(2, 'D', '2026-10-01/P1M', '', 'OPD', '3'))).toBe('document-part')
    expect(codeOf(readJsonDocument('{"groups": []}'))).toBe('document-empty')
    expect(codeOf(readJsonDocument('{"groups": [{"dataSet": "D"}]}'))).toBe('document-part')
    expect(codeOf(readJsonDocument('[]'))).toBe('file-not-json')
  })
})

describe('reading the reports of another system', () => {
  const sheet = (document: ValueDocument, codes: CodeBook | null = CODES) =>
    documentSheet('file', document, EDITION, CYCLE, codes)
  const read = (document: ValueDocument, codes: CodeBook | null = CODES) =>
    must(readReportSheet(EDITION, sheet(document, codes), 'en'))

  it('gives what was sent, in our codes, whatever the format', () => {
    const { document } = sent()
    for (const back of [
      document,
      must(readAdx(writeAdx(document))),
      must(readJsonDocument(writeJsonDocument(document))),
    ]) {
      const { lines, refused, passedOver } = read(back)
      expect([refused, passedOver]).toEqual([[], []])
      expect(
        lines.map(({ unit, period, contents }) => [
          unit,
          period,
          Object.fromEntries(
            [...contents].map(([cell, content]) => [cell, content.kind === 'value' && content.value]),
          ),
        ]),
      ).toEqual([
        ['elm', '2026-10', { 'visits.u5.f': 3, 'visits.o5.m': 0, stock: 2.5, fridge: true }],
        ['oak', '2026-10', { 'visits.u5.m': 12 }],
      ])
    }
  })

  it('names what has no place here, and refuses a value at its place', () => {
    const group = (values: DocumentGroup['values'], more: Partial<DocumentGroup> = {}) => ({
      ...{ dataSet: 'clinic', period: '2026-10-01/P1M', orgUnit: 'elm', values },
      ...more,
    })
    const value = (dataElement: string, of: CellValue, axes = {}) => ({ dataElement, axes, value: of })
    const { refused, passedOver, lines } = read(
      {
        exported: '',
        groups: [
          group([value('stock', 'many'), value('beds', 3), value('visits', 4, { age: 'u5' })]),
          group([value('stock', 1)], { dataSet: 'other' }),
          group([value('visits', 4, { sex: 'f', age: 'u5' })], { period: '2026-10-01/P3M' }),
        ],
      },
      null,
    )
    expect(refused).toMatchObject([{ row: 1, column: 'C', problem: { code: 'cell-letters' } }])
    expect(passedOver).toEqual(['beds', 'visits (age=u5)', 'other'])
    expect(lines.map(({ row, period }) => [row, period])).toEqual([
      [1, '2026-10'],
      [3, '2026-10-01/P3M'],
    ])
    expect(parseInterval('2026-10-01/P3M', CYCLE).ok).toBe(false)
  })
})
