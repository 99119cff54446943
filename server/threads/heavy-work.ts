import { readBody } from '../http/read-body'
import { readCarried } from '../desk/read-carried'
import { readBundleText } from '../definitions/read-bundle'
import { planUnits, spansOfChanges } from '../units/plan-work'

/**
 * Work that could hold the event loop for long when a person sends much of it: pure calculations, from values that
 * can be copied between threads to such values. They may throw a Refusal.
 */
export const HEAVY_WORK = { readBody, readCarried, readBundleText, planUnits, spansOfChanges }

export type HeavyName = keyof typeof HEAVY_WORK
export type HeavyInput<N extends HeavyName> = Parameters<(typeof HEAVY_WORK)[N]>[0]
export type HeavyResult<N extends HeavyName> = Awaited<ReturnType<(typeof HEAVY_WORK)[N]>>
