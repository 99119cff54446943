import { conflict } from '../refusal'

/**
 * @throws Refusal 409 `draft-changed`, with who and when, when a draft is not the one that somebody worked
 *   on.
 */
export function mustBeVersion(
  stored: { version: number; by: string; at: string } | undefined,
  version: number,
): void {
  if ((stored?.version ?? 0) === version) return
  throw conflict('draft-changed', `${stored?.by ?? 'Somebody'} changed this draft meanwhile.`, [
    { code: 'draft-changed', message: '', values: { by: stored?.by ?? '', at: stored?.at ?? '' } },
  ])
}
