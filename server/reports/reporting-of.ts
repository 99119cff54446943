import { reporting, type Reporting } from '#core/quality/reporting'
import { isReceived } from '#core/report/state'
import { stateOf, type ReportRow } from './place'

/**
 * How completely and how timely a round was reported.
 * @param units the codes of those that the round expects.
 * @param reports by unit; awaited ones are missing.
 */
export const reportingOf = (
  units: readonly string[],
  reports: ReadonlyMap<string, ReportRow>,
  dueAt: string,
): Reporting =>
  reporting(
    units.map(code => {
      const report = reports.get(code)
      return {
        received: isReceived(stateOf(report)),
        firstReceivedAt: report?.firstReceivedAt ? Date.parse(report.firstReceivedAt) : null,
      }
    }),
    Date.parse(dueAt),
  )
