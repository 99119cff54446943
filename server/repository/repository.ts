import { STAND_IN } from '#core/contract/sending'
import type { TheirPlace } from '#core/sending/document'
import { httpRepository } from './http-repository'
import { standInRepository } from './stand-in'

/** A document on its way. The repository knows it by the reference: given twice, it is the same one. */
export interface Delivery {
  reference: string
  mediaType: string
  body: Buffer
  /** All of what the sender has for its facilities and period; else values that are added to it. */
  isWhole: boolean
}

/** A value that was not taken. */
export interface RefusedPlace extends TheirPlace {
  /** Does it not know a code of it, or does it not believe the value? */
  about: 'code' | 'value'
  message: string
}

/** What a repository says of a delivery. */
export interface Answer {
  /** Its own name for what it has got; null when it took nothing of it. */
  receipt: string | null
  refused: RefusedPlace[]
  /** Why it took nothing. */
  problem: string | null
}

/** The file of an extract on its way. Given twice under one reference, it is the same one. */
export interface FileDelivery {
  reference: string
  /** As it would be called on a disk. */
  name: string
  mediaType: string
  /** Its bytes, part by part: it may be larger than the memory. */
  parts: () => AsyncIterable<Buffer>
  /** All rows that there are; else those that came since the last one. */
  isWhole: boolean
}

/** A row of a file that was not taken. Of entries in FHIR the repository names it by its id. */
export interface RefusedLine {
  row: string
  message: string
}

/** What a repository says of a file. */
export interface FileAnswer extends Omit<Answer, 'refused'> {
  refused: RefusedLine[]
}

/**
 * A national repository, or whatever else gets signed reports and extracts. It may be slow, away or wrong: each call
 * ends when its signal is aborted, and throws when it did not answer as agreed.
 */
export interface Repository {
  deliver: (delivery: Delivery, signal: AbortSignal) => Promise<Answer>
  /** What it said of a delivery before; null when it has none. */
  lookUp: (reference: string, signal: AbortSignal) => Promise<Answer | null>
  deliverFile: (file: FileDelivery, signal: AbortSignal) => Promise<FileAnswer>
  lookUpFile: (reference: string, signal: AbortSignal) => Promise<FileAnswer | null>
}

/** The repository at an address: the one that ships with the application at `stand-in`. */
export const repositoryAt = (address: string, key: string | null): Repository =>
  address === STAND_IN || address.startsWith(`${STAND_IN}:`)
    ? standInRepository(address.slice(STAND_IN.length + 1))
    : httpRepository(address, key)
