let stopping = false

/** Is the server about to end? New requests are then told to come again. */
export const isStopping = (): boolean => stopping

/** @returns false when it was stopping already. */
export function beginStopping(): boolean {
  if (stopping) return false
  stopping = true
  return true
}
