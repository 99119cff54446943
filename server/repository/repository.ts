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

/**
 * A national repository, or whatever else gets signed reports. It may be slow, away or wrong: each call ends when
 * its signal is aborted, and throws when it did not answer as agreed.
 */
export interface Repository {
  deliver: (delivery: Delivery, signal: AbortSignal) => Promise<Answer>
  /** What it said of a delivery before; null when it has none. */
  lookUp: (reference: string, signal: AbortSignal) => Promise<Answer | null>
}

/** The repository at an address: the one that ships with the application at `stand-in`. */
export const repositoryAt = (address: string, key: string | null): Repository =>
  address === STAND_IN || address.startsWith(`${STAND_IN}:`)
    ? standInRepository(address.slice(STAND_IN.length + 1))
    : httpRepository(address, key)
