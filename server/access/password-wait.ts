/** How many wrong passwords are free. */
const FREE_TRIES = 3
/** The longest wait, in milliseconds. */
export const LONGEST_WAIT = 15 * 60_000

/**
 * How long to wait after so many wrong passwords in a row, in milliseconds: nothing for the first three, then
 * one second, doubling each time, up to fifteen minutes.
 */
export const waitAfter = (failures: number): number =>
  failures <= FREE_TRIES ? 0 : Math.min(LONGEST_WAIT, 1000 * 2 ** (failures - FREE_TRIES - 1))
