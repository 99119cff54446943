import { Type, type Static } from '@sinclair/typebox'
import type { CaseRegister } from '../cases/register'
import { exact, shapeOf } from './common'
import { Code } from './drafts'

/** The newest edition of a register, for filling without a network. */
export const DeskRegister = exact({
  register: Code,
  edition: Type.Integer(),
  definition: shapeOf<CaseRegister>('The register'),
})
export type DeskRegister = Static<typeof DeskRegister>
