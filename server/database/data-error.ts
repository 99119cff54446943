/**
 * Classes of SQLSTATE (PostgreSQL, appendix A) that say: these data cannot be stored. Data exception,
 * integrity violation, a statement that data made wrong, program limits.
 */
const DATA_CLASSES = new Set(['22', '23', '42', '54'])

/**
 * Is an error a property of the data, so that trying again will not help? Everything that says something
 * about the engine, the disk or the connection is not: the device keeps its changes and tries again.
 */
export function isDataError(error: unknown): boolean {
  const code = (error as { code?: unknown }).code
  if (typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code)) return DATA_CLASSES.has(code.slice(0, 2))
  return error instanceof TypeError || error instanceof RangeError || error instanceof SyntaxError
}
