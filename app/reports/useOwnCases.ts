import { compileRegister, type CompiledRegister } from '#core/cases/compile-register'
import type { CaseRegister } from '#core/cases/register'
import type { ReportFile } from '#core/contract/reports'
import type { Result } from '#core/result'

const compiled = new WeakMap<CaseRegister, Result<CompiledRegister>>()
/** A register for counting its cases, made once: its own rules are of no concern there. */
export function registerToCount(definition: CaseRegister): Result<CompiledRegister> {
  const made = compiled.get(definition) ?? compileRegister({ ...definition, rules: [] })
  compiled.set(definition, made)
  return made
}

export type OwnCases = ReturnType<typeof useOwnCases>

/**
 * The cases of this device with their registers, for what a report says of them; null where it counts none.
 * They are prepared while nothing else happens: typing must not wait for them.
 */
export function useOwnCases({ edition }: Pick<ReportFile, 'edition'>) {
  if (!edition.counts?.length && !edition.caseCounts?.length) return null
  const { registers, cases } = useDeskCases(false)
  const keepDays = useVault().device!.settings.keepDays
  const today = useWords().today()
  return {
    registers,
    /** null before they are ready. */
    cases: computed(() => (cases.load.data.value === null ? null : cases.all.value)),
    today,
    /** The first day of which this device still has all cases: it deletes older ones. */
    since: today - keepDays + 1,
  }
}
