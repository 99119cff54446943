import type { Units } from './useUnits'

/**
 * The facilities that are open now, to choose one of.
 * @param branch only those in it; all where it is left out
 */
export const openFacilities = (
  units: Units,
  facilityLevel: number | undefined,
  branch: string | undefined,
): { value: string | null; label: string }[] =>
  [...units.byCode.value.values()]
    .filter(
      ({ code, level, open }) =>
        open &&
        level === facilityLevel &&
        (branch === undefined || units.above(code).some(above => above.code === branch)),
    )
    .map(({ code, name }) => ({ value: code, label: name }))
