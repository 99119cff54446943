import type { Edition, CountedRegister } from '../report/edition'
import type { CompiledRegister } from './compile-register'

/**
 * A register as far as the rules of a dataset may count its cases: the questions of a case that have one
 * answer.
 */
export const countedRegister = ({
  register,
  vocabulary,
}: Pick<CompiledRegister, 'register' | 'vocabulary'>): CountedRegister => ({
  code: register.code,
  name: register.name,
  questions: [...vocabulary.names.values()]
    .filter(({ cells }) => cells.length === 1)
    .map(({ code, label, type, unitOfMeasure, choices }) => ({
      code,
      label,
      type,
      unitOfMeasure,
      ...(choices && { choices: choices.map(choice => ({ code: choice.code, label: choice.label })) }),
    })),
})

/** An edition with those registers that its rules name in a count or its cells are held against, and no others. */
export function withCounts(edition: Edition, registers: readonly CountedRegister[]): Edition {
  const named = new Set([
    ...(edition.caseCounts ?? []).map(({ register }) => register),
    ...edition.rules.flatMap(({ expression }) =>
      [...expression.matchAll(/\bcount\s*\(\s*([a-z][a-z0-9_]*)/g)].map(([, code]) => code!),
    ),
  ])
  const found: Edition = { ...edition, counts: registers.filter(({ code }) => named.has(code)) }
  if (!found.counts!.length) delete found.counts
  return found
}
