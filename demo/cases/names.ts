import { FAMILY, GIVEN } from '../people'
import type { Random } from '../random'

/** Made-up villages of a made-up coast. */
const VILLAGES = [
  'Nether Cove',
  'Sandlow',
  'Beacon End',
  'Gannet Row',
  'Oar Hill',
  'Kettle Bridge',
  'Fen Gate',
]
/** Sounds that are put before a family name, so that a few lists give many names. */
const BEFORE = ['', '', '', 'Mar', 'Tre', 'Pol', 'Lan', 'Nan']

export const oneOf = <Of>(list: readonly Of[], random: Random): Of => list[random.whole(0, list.length - 1)]!

export const familyName = (random: Random): string => {
  const before = oneOf(BEFORE, random)
  const family = oneOf(FAMILY, random)
  return before ? before + family.toLowerCase() : family
}
export const givenName = (random: Random): string => oneOf(GIVEN, random)
export const village = (random: Random): string => oneOf(VILLAGES, random)
/** A number that no exchange gives out. */
export const telephone = (random: Random): string => `000 55 ${random.whole(1000, 9999)}`
