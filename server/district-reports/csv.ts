import { printDay } from '#core/calendar/day'
import type { DistrictReport, FigureLine } from '#core/contract/district-reports'
import { writeCsv } from '#core/exchange/csv'
import { wordsIn } from '#core/report/edition'

/** Texts are no figures: they stay in the report. */
const countedAnswers = ({ rollUp, answers = [] }: FigureLine) => (rollUp === 'none' ? [] : answers)

/** A day as a day; a share is in its answers. */
const figureOf = ({ rollUp, value }: FigureLine) =>
  rollUp === 'latest' && value !== null ? printDay(value) : rollUp === 'share' ? null : value

/**
 * The lines of a district report for a spreadsheet: one for each item, one for each band and each answer,
 * then the indicators. `reports_expected` counts the facilities that offer the service.
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
        figureOf(line),
        line.reportsIn,
        line.offering ?? expected,
      ],
      ...countedAnswers(line).map(({ code, label, units }) => [
        ...place,
        section.code,
        `${line.item}=${code}`,
        `${wordsIn(line.name, language)}: ${wordsIn(label, language)}`,
        '',
        units.length,
        line.reportsIn,
        line.offering ?? expected,
      ]),
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
