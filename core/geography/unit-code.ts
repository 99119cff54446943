import { bad, good, type Result } from '../result'

export const LONGEST_UNIT_CODE = 40

/**
 * The code of an organisation unit: whatever the country uses, in its own capitals. A letter or digit first,
 * so that no code is a relative address (`..`) or runs as a formula in a spreadsheet.
 */
export const UNIT_CODE = new RegExp(`^[A-Za-z0-9][A-Za-z0-9_./-]{0,${LONGEST_UNIT_CODE - 1}}$`)

/**
 * Checks the code of a unit. Error: `unit-code`.
 * @example checkUnitCode('HF-22') // good('HF-22')
 */
export const checkUnitCode = (code: string): Result<string> =>
  UNIT_CODE.test(code)
    ? good(code)
    : bad({
        code: 'unit-code',
        values: { column: 'code', code, most: LONGEST_UNIT_CODE },
        message: `“${code}” is no code: up to ${LONGEST_UNIT_CODE} letters, digits and - _ . /, a letter or digit first.`,
      })
