import type { DistrictReport } from '#core/contract/district-reports'
import { writeCsv } from '#core/exchange/csv'
import { wordsIn } from '#core/report/edition'

/**
 * The lines of a district report for a spreadsheet: one for each item, one for each band, then the
 * indicators. `reports_expected` counts the facilities that offer the service.
 */
export function districtCsv({ figures }: DistrictReport, language: string): string {
  const { expected } = figures.reporting
  const heading = [
    'district',
    'period',
    'section',
    'item',
    'name',
    'bands',
    'value',
    'reports_in',
    'reports_expected',
  ]
  const place = [figures.unit.name, figures.round.period]
  const rows = figures.sections.flatMap(section =>
    section.lines.flatMap(line => [
      [
        ...place,
        section.code,
        line.item,
        wordsIn(line.name, language),
        '',
        line.value,
        line.reportsIn,
        line.offering ?? expected,
      ],
      ...line.bands.map(band => [
        ...place,
        section.code,
        line.item,
        wordsIn(line.name, language),
        band.names.map(name => wordsIn(name, language)).join(', '),
        band.value,
        band.reportsIn,
        band.offering ?? expected,
      ]),
    ]),
  )
  const rates = figures.indicators.map(indicator => [
    ...place,
    'indicators',
    indicator.code,
    wordsIn(indicator.name, language),
    '',
    indicator.value === null ? null : Math.round(indicator.value * 100) / 100,
    figures.reporting.received,
    expected,
  ])
  return writeCsv([heading, ...rows, ...rates])
}
