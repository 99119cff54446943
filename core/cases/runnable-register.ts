import { compileRuleList } from '../rule/compile-rules'
import { good, type Result } from '../result'
import { compileRegister, type CompiledRegister } from './compile-register'
import type { CaseRegister } from './register'

/** A published register with the rules of it that can run, and the register of the parent cases. */
export interface RunnableRegister extends CompiledRegister {
  parent?: RunnableRegister
}

/**
 * Compiles a published register. A rule that no longer compiles is left out: the parent register may ask
 * other questions since, and readiness says so before the next edition is published. The other rules go on.
 *
 * Problems: those of its forms, where an edition was published before a check became stricter.
 *
 * @param parentOf the newest definition of a register by its code, undefined where it is not published
 */
export function runnableRegister(
  register: CaseRegister,
  parentOf: (code: string) => CaseRegister | undefined,
): Result<RunnableRegister> {
  const parentRegister = register.parent === undefined ? undefined : parentOf(register.parent)
  // Rules name the parent case only, and not what that one belongs to.
  const parent = parentRegister && runnableRegister({ ...parentRegister, rules: [] }, () => undefined)
  if (parent && !parent.ok) return parent
  const compiled = compileRegister({ ...register, rules: [] }, parent?.value)
  if (!compiled.ok) return compiled
  const rules = register.rules.flatMap(rule => {
    const ready = compileRuleList([rule], compiled.value.vocabulary)
    return ready.ok ? ready.value : []
  })
  return good({ ...compiled.value, register, rules, ...(parent && { parent: parent.value }) })
}
