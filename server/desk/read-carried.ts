import type { JWK } from 'jose'
import { CarriedOut, MOST_CHANGES } from '#core/contract/desk'
import { readCarryFile, readKeys, type CarryKeys } from '#core/protect/carry-file'
import { refusedBy } from '../refusal'
import { validate } from '../http/validate'

/**
 * What a carried file brought. Its changes come as texts of at most 500, each to be parsed when its turn
 * comes.
 */
export interface Carried {
  from: string
  person: string
  files: CarriedOut['files']
  changes: string[]
}

/**
 * Opens a file that a device wrote, checks who wrote it, and its shape.
 *
 * @param own the secret keys of this district
 * @param writer the device that the file names, and its public key
 * @throws Refusal 422 `carry-changed`, `carry-unknown`, `carry-signature`, `carry-too-large`; 400 `schema`
 */
export async function readCarried({
  file,
  own,
  writer,
}: {
  file: string
  own: CarryKeys<JWK>
  writer: { id: string; key: JWK } | null
}): Promise<Carried> {
  const { agree } = await readKeys(own)
  const read = await readCarryFile(file, agree, id =>
    Promise.resolve(writer && id === writer.id ? writer.key : null),
  )
  if (!read.ok) throw refusedBy(422, read.problems)
  const { person, changes, files } = validate<CarriedOut>(CarriedOut, read.value.content, 'body')
  const pieces = Array.from({ length: Math.ceil(changes.length / MOST_CHANGES) }, (_, at) =>
    JSON.stringify(changes.slice(at * MOST_CHANGES, (at + 1) * MOST_CHANGES)),
  )
  return { from: read.value.from, person, files, changes: pieces }
}
