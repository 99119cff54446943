import { readBody } from '../http/read-body'
import { readCarried } from '../desk/read-carried'
import { readSheets } from '../files/read-sheets'
import { readBundleText } from '../bundles/read-bundle'
import type { HeavyName } from '../threads/run-heavy'
import { planUnits, spansOfChanges } from '../units/plan-work'

/**
 * Work that could hold the event loop for long when a person sends much of it: pure calculations, from values
 * that can be copied between threads to such values. They may throw a Refusal.
 */
export const HEAVY_WORK: Readonly<Record<HeavyName, (input: never) => unknown>> = {
  readBody,
  readCarried,
  readBundleText,
  readSheets,
  planUnits,
  spansOfChanges,
}
