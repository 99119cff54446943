import { normalizeJson } from '#core/contract/wire'
import { readBundle, type Bundle } from '#core/exchange/bundle'
import { Refusal, refusedBy } from '../refusal'

/** How many parts of one kind a bundle may hold. */
const MOST_PARTS = 500

/** A bundle from its text, with texts that can be stored. @throws Refusal 422 when it is none. */
export function readBundleText(text: string): Bundle {
  const bundle = readBundle(text)
  if (!bundle.ok) throw refusedBy(422, bundle.problems)
  const { datasets, registers, lists, groups } = bundle.value
  const many = [datasets, registers, lists, groups].some(parts => parts.length > MOST_PARTS)
  const normal = many ? null : normalizeJson(bundle.value, '', 'body')
  if (!normal)
    throw new Refusal(422, 'too-many-values', `A bundle holds at most ${MOST_PARTS} parts of one kind.`)
  if (!normal.ok) throw refusedBy(422, normal.problems)
  return normal.value as Bundle
}
