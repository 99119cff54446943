import type { PairSide } from '#core/contract/case-pairs'
import type { CaseLine } from '#core/contract/cases'
import type { CaseRegister } from '#core/cases/register'
import { useAnswerText } from './useCases'

/** How cases read in a list of the office: their title, and the rest of the line of their register. */
export function useCaseLines(
  registerOf: (code: string) => CaseRegister | null | undefined,
  ...units: Parameters<typeof useAnswerText>
) {
  const words = useWords()
  const { lineOf, titleOf, textOf } = useAnswerText(...units)
  const partsOf = ({ register, answers }: CaseLine) => {
    const definition = registerOf(register)
    return definition ? lineOf(definition, code => answers[code]) : []
  }
  const titleOfCase = (line: CaseLine): string => titleOf(partsOf(line))
  /** What stands behind the title. */
  const restOf = (line: CaseLine): string =>
    partsOf(line)
      .slice(2)
      .filter(part => part.text)
      .map(part => words.pair(part.label, part.text))
      .join(' · ')
  /** The title of one side of a pair; of another branch only its facility is told. */
  const titleOfSide = ({ line, unit }: PairSide): string =>
    line ? titleOfCase(line) : words.t('pairs.inOther', { unit: unit.name })
  return { titleOfCase, restOf, titleOfSide, textOf, lineOf, titleOf }
}

/**
 * The newest definitions of the registers, by their code.
 * @param isNeeded they are loaded when it becomes true; while it is false there are none
 */
export function useRegisters(isNeeded: () => boolean = () => true) {
  const load = useLoad(
    async () => (isNeeded() ? callApi('GET /api/desk/registers', {}) : []),
    () => isNeeded(),
  )
  const byCode = computed(() => new Map((load.data.value ?? []).map(one => [one.register, one.definition])))
  return { load, byCode }
}
