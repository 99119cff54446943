import { check } from '@placemarkio/check-geojson'
import { parse } from 'csv-parse/sync'
import { Fhir } from 'fhir'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { places } from '../../demo/places'
import { parseDay } from '../calendar/day'
import { planChanges } from '../geography/plan-changes'
import type { UnitHistory } from '../geography/unit'
import type { UnitRows } from '../geography/unit-row'
import { growTree } from '../geography/unit-tree'
import { must, type Result } from '../result'
import { writeCsv } from './csv'
import { textOfBytes } from './text'
import { memoryOf } from './unit-columns'
import { columnsOf, cutUnitsCsv, readUnitsTable, writeUnitsCsv } from './units-csv'
import { readUnitsFhir, writeUnitsFhir } from './units-fhir'
import { readUnitsGeoJson, writeUnitsGeoJson } from './units-geojson'

/** Reads a CSV whose columns are found by their headings, in one act. */
function readUnitsCsv(text: string) {
  const table = cutUnitsCsv(text)
  return table.ok ? readUnitsTable(table.value, columnsOf(table.value)) : table
}

const day = (text: string) => must(parseDay(text))
const NOW = day('2026-11-09')
const COAST = places()
  .filter(place => !place.moves && !place.to)
  .map((place): UnitHistory => ({
    code: place.code,
    position: { latitude: place.latitude, longitude: place.longitude },
    spans: [
      {
        from: day(place.from),
        to: null,
        parent: place.parent,
        name: place.name,
        level: place.level,
        kind: place.kind,
      },
    ],
  }))
const tree = must(growTree(COAST))

const verdicts = (rows: Result<UnitRows>, of = tree) => [
  ...new Set(planChanges(of, must(rows), NOW).lines.map(({ verdict }) => verdict)),
]

describe('units go out and come in again', () => {
  it.each([
    ['CSV', () => readUnitsCsv(writeUnitsCsv(tree, NOW))],
    ['GeoJSON', () => readUnitsGeoJson(JSON.stringify(writeUnitsGeoJson(tree, NOW)))],
    ['FHIR', () => readUnitsFhir(JSON.stringify(writeUnitsFhir(tree, NOW)))],
  ])('unchanged as %s, and all new where there was nothing', (_, read) => {
    expect(must(read()).rows).toHaveLength(COAST.length)
    expect(verdicts(read())).toEqual(['unchanged'])
    const empty = must(growTree([]))
    expect(verdicts(read(), empty)).toEqual(['new'])
    const grown = must(growTree([...planChanges(empty, must(read()), NOW).after.values()]))
    expect(grown.path('tern_row', NOW)).toEqual(tree.path('tern_row', NOW))
    expect(grown.history('tern_row')!.position).toEqual(tree.history('tern_row')!.position)
  })

  it('as CSV that another reader of the registry reads (csv-parse)', () => {
    const rows = parse(writeUnitsCsv(tree, NOW), { columns: true }) as Record<string, string>[]
    expect(rows).toHaveLength(COAST.length)
    expect(rows.find(({ code }) => code === 'tern_row')).toMatchObject({
      name: 'Tern Row Health Centre',
      parent: 'saltings_zone',
      level: '4',
      opened: '2020-01-01',
      closed: '',
    })
  })

  it('as GeoJSON that a linter passes (check-geojson, RFC 7946)', () => {
    expect(check(JSON.stringify(writeUnitsGeoJson(tree, NOW))).type).toBe('FeatureCollection')
    const bare = must(growTree(COAST.map(({ code, spans }) => ({ code, spans }))))
    expect(check(JSON.stringify(writeUnitsGeoJson(bare, NOW))).type).toBe('FeatureCollection')
  })

  it('as FHIR R4 that a validator passes without a warning (the fhir package, with HL7’s definitions)', () => {
    const { valid, messages } = new Fhir().validate(writeUnitsFhir(tree, NOW))
    expect(messages.filter(({ severity }) => severity !== 'info').slice(0, 3)).toEqual([])
    expect(valid).toBe(true)
  })
})

describe('a CSV file of an office', () => {
  const rows = (text: string) =>
    must(readUnitsCsv(text)).rows.map(({ line, code, name, parent }) => [line, code, name, parent])

  it('may have a byte-order mark, semicolons, Windows line ends, empty lines, and columns in any order', () => {
    expect(rows('\uFEFFparent;name;code\r\n;Coast;coast\r\n\r\ncoast;Élan;elan\r\n')).toEqual([
      [2, 'coast', 'Coast', null],
      [4, 'elan', 'Élan', 'coast'],
    ])
    expect(rows('Name\tParent\nCoast\t\n')).toEqual([[2, 'coast', 'Coast', null]])
    expect(rows('code,name,parent\na,"Say ""ah"", twice",\n')).toEqual([[2, 'a', 'Say "ah", twice', null]])
  })

  it('may be written in Latin-1, as Windows does', () => {
    expect(textOfBytes(Uint8Array.of(0xc9, 0x6c, 0x61, 0x6e))).toBe('Élan')
    expect(textOfBytes(new TextEncoder().encode('\uFEFFÉlan'))).toBe('Élan')
  })

  it('is refused as a whole when it is empty, lacks a column, or has one twice', () => {
    const why = (text: string) => {
      const read = readUnitsCsv(text)
      return read.ok ? 'fine' : read.problems[0]!.code
    }
    expect([why(''), why('\n\n'), why('code,title\na,b'), why('name,parent,name\na,,b')]).toEqual([
      'file-empty',
      'file-empty',
      'csv-no-column',
      'csv-column-twice',
    ])
  })
})

describe('files of other kinds', () => {
  it('are refused with the reason', () => {
    expect(
      [
        readUnitsGeoJson('{'),
        readUnitsGeoJson('[]'),
        readUnitsGeoJson('{"type":"Point"}'),
        readUnitsFhir('{"resourceType":"Patient"}'),
      ].map(read => !read.ok && read.problems[0]!.code),
    ).toEqual(['file-not-json', 'file-not-json', 'geojson-no-features', 'fhir-no-bundle'])
  })

  it('tell each feature or entry that cannot be read', () => {
    const geo = must(
      readUnitsGeoJson(
        '{"type":"FeatureCollection","features":[null,{"type":"Feature","properties":{"name":"Elm"},"geometry":{"type":"Point","coordinates":[200,3]}},{"type":"Feature","properties":{"name":"Oak"},"geometry":null}]}',
      ),
    )
    expect(geo.rows.map(({ name }) => name)).toEqual(['Oak'])
    expect(geo.refused.map(({ line, problems }) => [line, problems[0]!.code])).toEqual([
      [1, 'unit-no-name'],
      [2, 'unit-position'],
    ])
  })

  it('may be Organizations tied by their ids, as HL7’s examples are, with other resources between', () => {
    const bundle = {
      resourceType: 'Bundle',
      entry: [
        { resource: { resourceType: 'Organization', id: 'north-Zone', name: 'North' } },
        { resource: { resourceType: 'Patient' } },
        {
          resource: {
            resourceType: 'Organization',
            id: 'Elm.1',
            name: 'Elm',
            partOf: { reference: 'Organization/north-Zone' },
          },
        },
      ],
    }
    expect(
      must(readUnitsFhir(JSON.stringify(bundle))).rows.map(({ line, code, parent }) => [line, code, parent]),
    ).toEqual([
      [1, 'north-Zone', null],
      [3, 'Elm.1', 'north-Zone'],
    ])
  })
})

describe('numbers right, 14: what stands in a file of units is taken or told, at its line', () => {
  const rowsOf = (text: string) => must(readUnitsCsv(text))
  const HEAD = 'code,name,parent,level'
  const many = Array.from({ length: 300 }, (_, at) => `unit_${at},Unit ${at},saltings_zone,4`)

  it('a quote that is never closed swallows nothing: the file is refused, with the line', () => {
    const lines = [HEAD, ...many.slice(0, 1), 'broken,"Unit broken,saltings_zone,4', ...many.slice(1)]
    expect(readUnitsCsv(lines.join('\r\n'))).toMatchObject({
      ok: false,
      problems: [{ code: 'csv-quote', values: { line: 3 } }],
    })
    // Also where a later quote seems to close it.
    lines[200] = 'late,"Unit late",saltings_zone,4'
    expect(readUnitsCsv(lines.join('\n'))).toMatchObject({
      ok: false,
      problems: [{ code: 'csv-quote', values: { line: 3 } }],
    })
  })

  it('lines are counted as an editor counts them, also behind a cell of several lines', () => {
    expect(
      rowsOf(`\n\n${HEAD}\nelm,"Elm\nHealth\nPost",saltings_zone,4\n\n-1,Oak,saltings_zone,4\n`),
    ).toMatchObject({ rows: [{ line: 4, code: 'elm' }], refused: [{ line: 8, code: '-1' }] })
  })

  it.each(['..', '-22', 'a b', 'élan', 'x'.repeat(41)])(
    'the code %s is not taken for another: it is refused with its reason',
    code => {
      expect(rowsOf(`${HEAD}\n${code},Elm,saltings_zone,4`)).toMatchObject({
        rows: [],
        refused: [{ line: 2, code, problems: [{ code: 'unit-code', values: { code } }] }],
      })
    },
  )

  it('a parent that is named by its name is told at the line', () => {
    const plan = planChanges(tree, rowsOf(`${HEAD}\nelm,Elm,Saltings Zone,4`), NOW)
    expect(plan.lines).toMatchObject([
      { line: 2, verdict: 'refused', problems: [{ values: { parent: 'Saltings Zone' } }] },
    ])
  })

  it('a first line sep=; and blank lines before the heading are passed over', () => {
    for (const text of [
      'sep=;\r\ncode;name;parent\r\nelm;Elm, the first;saltings_zone',
      '\n \nsep=;\ncode;name;parent\nelm;Elm, the first;saltings_zone',
      '\r\ncode;name;parent\r\nelm;Elm, the first;saltings_zone',
    ]) {
      expect(rowsOf(text).rows).toMatchObject([{ code: 'elm', name: 'Elm, the first' }])
    }
  })

  it.each([
    ['utf16le', [0xff, 0xfe]],
    ['utf16be', [0xfe, 0xff]],
  ] as const)('%s is read', (encoding, mark) => {
    const bytes = Buffer.from('name\tparent\nHélène\tsaltings_zone', 'utf16le')
    if (encoding === 'utf16be') bytes.swap16()
    expect(rowsOf(textOfBytes(Uint8Array.from([...mark, ...bytes]))).rows).toMatchObject([
      { name: 'Hélène', parent: 'saltings_zone' },
    ])
  })

  it('whatever leaves as CSV comes back: signs, quotes, line ends, formulas', () => {
    const name = fc
      .string({
        unit: fc.constantFrom('a', 'É', '"', ',', ';', '\n', '\r\n', '\t', "'", '=', '+', '-', '@', ' ', 'x'),
        minLength: 1,
        maxLength: 20,
      })
      .filter(text => /[aÉx]/.test(text) && text === text.trim())
    fc.assert(
      fc.property(fc.array(name, { minLength: 1, maxLength: 8 }), names => {
        const text = writeCsv([
          ['code', 'name', 'parent'],
          ...names.map((one, at) => [`u${at}`, one, 'saltings_zone']),
        ])
        expect(rowsOf(text).rows.map(row => row.name)).toEqual(names)
      }),
    )
  })

  it('whatever a file holds besides is listed', () => {
    expect(rowsOf('code,name,parent,Telephone,beds\nelm,Elm,saltings_zone,123,4').passedOver).toEqual([
      'Telephone',
      'beds',
    ])
    const features = [
      {
        type: 'Feature',
        id: 'elm',
        geometry: { type: 'Polygon', coordinates: [] },
        properties: { name: 'Elm', parent: 'saltings_zone', beds: 4 },
        colour: 'x',
      },
    ]
    expect(
      must(readUnitsGeoJson(JSON.stringify({ type: 'FeatureCollection', features }))).passedOver,
    ).toEqual(['colour', 'beds', 'geometry Polygon'])
    const resources = [
      { resourceType: 'Patient' },
      {
        resourceType: 'Location',
        id: 'elm',
        name: 'Elm',
        telecom: [],
        identifier: [{ system: 'urn:other', value: '7' }],
        extension: [{ url: 'urn:other:beds', valueInteger: 4 }],
      },
    ]
    expect(
      must(
        readUnitsFhir(
          JSON.stringify({ resourceType: 'Bundle', entry: resources.map(resource => ({ resource })) }),
        ),
      ).passedOver,
    ).toEqual(['resource Patient', 'telecom', 'urn:other:beds', 'identifier'])
  })

  it('our own files leave nothing over, and the days of a unit come back in each', () => {
    const expected = Object.fromEntries(
      rowsOf(writeUnitsCsv(tree, NOW)).rows.map(({ code, opened, closed }) => [code, [opened, closed]]),
    )
    for (const read of [
      readUnitsCsv(writeUnitsCsv(tree, NOW)),
      readUnitsGeoJson(JSON.stringify(writeUnitsGeoJson(tree, NOW))),
      readUnitsFhir(JSON.stringify(writeUnitsFhir(tree, NOW))),
    ]) {
      expect(must(read).passedOver).toEqual([])
      expect(
        Object.fromEntries(must(read).rows.map(({ code, opened, closed }) => [code, [opened, closed]])),
      ).toEqual(expected)
    }
  })
})

describe('what users met, 15: codes and columns as the country writes them', () => {
  const CODES = ['1001', '007', 'HF-22', 'KW_01', 'a/b', '9.4', 'Q'.repeat(40), 'NULL']
  const own = must(
    growTree(
      [
        ...planChanges(
          tree,
          must(
            readUnitsCsv(
              `code,name,parent\n${CODES.map(code => `${code},Post ${code.slice(0, 9)},saltings_zone`).join('\n')}`,
            ),
          ),
          NOW,
        ).after.values(),
      ].concat(COAST),
    ),
  )

  it.each([
    ['CSV', () => readUnitsCsv(writeUnitsCsv(own, NOW))],
    ['GeoJSON', () => readUnitsGeoJson(JSON.stringify(writeUnitsGeoJson(own, NOW)))],
    ['FHIR', () => readUnitsFhir(JSON.stringify(writeUnitsFhir(own, NOW)))],
  ])('real codes are taken, keep their case, and come back from %s', (_, read) => {
    expect(CODES.map(code => own.path(code, NOW).at(-1))).toEqual(CODES)
    expect(must(read()).rows.map(({ code }) => code)).toEqual(expect.arrayContaining(CODES))
    expect(verdicts(read(), own)).toEqual(['unchanged'])
  })

  it('ids of FHIR stay apart where codes differ in their signs only, and pass the validator', () => {
    const like = must(
      growTree(
        [
          ...planChanges(
            tree,
            must(
              readUnitsCsv(
                'code,name,parent\nA_1,One,saltings_zone\nA-1,Two,saltings_zone\nA/1,Three,saltings_zone',
              ),
            ),
            NOW,
          ).after.values(),
        ].concat(COAST),
      ),
    )
    const bundle = writeUnitsFhir(like, NOW)
    expect(new Set(bundle.entry.map(({ resource }) => resource.id)).size).toBe(bundle.entry.length)
    expect(new Fhir().validate(bundle).valid).toBe(true)
    expect(verdicts(readUnitsFhir(JSON.stringify(bundle)), like)).toEqual(['unchanged'])
  })

  it('two codes that differ in capitals only are told, in one file and beside what is there', () => {
    expect(must(readUnitsCsv('code,name,parent\nHF-22,One,\nhf-22,Two,')).refused).toMatchObject([
      { line: 3, problems: [{ code: 'unit-double-row', values: { other: 2 } }] },
    ])
    expect(
      planChanges(own, must(readUnitsCsv('code,name,parent\nhf-22,Post,saltings_zone')), NOW).lines,
    ).toMatchObject([
      { verdict: 'refused', problems: [{ code: 'unit-code-case', values: { like: 'HF-22' } }] },
    ])
  })

  it('columns are found by usual headings, by what was matched before, and by hand', () => {
    const table = must(cutUnitsCsv('Facility Code;NOM;Zone;Lat;Beds\n1001;Elm;saltings_zone;1,5;12'))
    expect(columnsOf(table)).toEqual({
      headings: ['Facility Code', 'NOM', 'Zone', 'Lat', 'Beds'],
      columns: { code: 'Facility Code', name: 'NOM', latitude: 'Lat' },
      missing: ['parent'],
    })
    expect(readUnitsTable(table, columnsOf(table))).toMatchObject({
      ok: false,
      problems: [{ code: 'csv-no-column', values: { column: 'parent' } }],
    })

    const byHand = columnsOf(table, { code: 'Facility Code', name: 'NOM', parent: 'Zone', kind: 'Gone' })
    expect(must(readUnitsTable(table, byHand))).toMatchObject({
      rows: [{ code: '1001', name: 'Elm', parent: 'saltings_zone' }],
      passedOver: ['Lat', 'Beds'],
    })
    // What was left out by hand stays left out, though its heading is a usual one.
    expect(columnsOf(table, undefined, memoryOf(byHand))).toEqual(byHand)
    expect(
      columnsOf(must(cutUnitsCsv('facility_code,Nom,ZONE,lat')), undefined, memoryOf(byHand)).columns,
    ).toEqual({ code: 'facility_code', name: 'Nom', parent: 'ZONE' })
  })
})
