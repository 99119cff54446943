import { Type, type Static } from '@sinclair/typebox'
import type { ReportMark } from '../quality/over-time'
import { Count, Counter, exact, Instant, orNull, RoleName, RoundRef, shapeOf, UnitRef, Uuid } from './common'
import { FacilityContact } from './nudges'

/** What somebody needs open who calls a facility, or drives there. */
export const FacilityFile = exact({
  unit: UnitRef,
  /** From the top of the tree, the unit itself last. */
  path: Type.Array(UnitRef),
  kind: Type.String(),
  position: orNull(exact({ latitude: Type.Number(), longitude: Type.Number() })),
  /** Open today. */
  open: Type.Boolean(),
  /** Only for who reminds facilities. */
  contacts: Type.Array(FacilityContact),
  /** The people whose branch it is. */
  people: Type.Array(exact({ name: Type.String(), role: RoleName, lastSeenAt: orNull(Instant) })),
  devices: Type.Array(
    exact({
      id: Uuid,
      name: Type.String(),
      lastContactAt: orNull(Instant),
      waiting: orNull(Counter()),
      blocked: Type.Boolean(),
    }),
  ),
  /** How it reported each dataset over two years, or as long as its rounds are shown. */
  reporting: Type.Array(
    exact({
      /** Oldest first. */
      rounds: Type.Array(RoundRef),
      /** In the order of the rounds; null where it was not expected. */
      marks: Type.Array(orNull(shapeOf<ReportMark>('What the unit did in the round'))),
      /** Items of the dataset that it does not offer today. */
      notOffered: Count,
    }),
  ),
})
export type FacilityFile = Static<typeof FacilityFile>
