import { Type, type Static } from '@sinclair/typebox'
import type { PublicKeys } from '../protect/carry-file'
import { SessionView } from './people'
import { Counter, exact, Instant, oneOf, orNull, UnitCode, UnitRef, Uuid } from './common'
import { VISIBLE } from './wire'

/** What a device is set to. Nothing of it is secret. */
export const DeviceSettings = exact({
  language: oneOf('en', 'fr'),
  textSize: oneOf('usual', 'large'),
  wifiOnly: Type.Boolean(),
  lockMinutes: Type.Integer({ minimum: 1, maximum: 120 }),
  keepDays: Type.Integer({ minimum: 1, maximum: 365 }),
  may: exact({
    openReports: Type.Boolean(),
    changeSent: Type.Boolean(),
    deleteDrafts: Type.Boolean(),
    changeSettings: Type.Boolean(),
  }),
  /** Opens locked settings: what the administrator's PIN stretches to, not the PIN. */
  settingsPin: Type.Optional(
    exact({
      salt: Type.String({ pattern: '^[0-9a-f]{16,64}$' }),
      hash: Type.String({ pattern: '^[0-9a-f]{64}$' }),
      rounds: Type.Optional(Type.Integer({ minimum: 1, maximum: 10_000_000 })),
      // A telephone must be able to compute it.
      argon: Type.Optional(
        exact({
          memory: Type.Integer({ minimum: 8, maximum: 65_536 }),
          passes: Type.Integer({ minimum: 1, maximum: 10 }),
        }),
      ),
    }),
  ),
})
export type DeviceSettings = Static<typeof DeviceSettings>
export const CardNew = exact({
  name: Type.String({ minLength: 2, maxLength: 80, pattern: VISIBLE }),
  unit: UnitCode,
  settings: DeviceSettings,
  uses: Type.Integer({ minimum: 1, maximum: 500 }),
  days: Type.Integer({ minimum: 1, maximum: 90 }),
})
/** A card as it is printed: the code is shown this once. */
export const CardMade = exact({ id: Uuid, code: Type.String(), until: Instant, uses: Type.Integer() })
export type CardMade = Static<typeof CardMade>
export const CardLine = exact({
  id: Uuid,
  name: Type.String(),
  unit: UnitRef,
  usesLeft: Type.Integer(),
  until: Instant,
  open: Type.Boolean(),
  devices: Type.Integer(),
})
export type CardLine = Static<typeof CardLine>
export const DeviceLine = exact({
  id: Uuid,
  /** A blocked one may still bring what waited on it. */ letsIn: Type.Boolean(),
  name: Type.String(),
  unit: UnitRef,
  pairedAt: Instant,
  lastContactAt: orNull(Instant),
  lastPerson: orNull(Type.String()),
  clockOffMs: orNull(Type.Integer()),
  blocked: Type.Boolean(),
  /** What still waited on it when it was last heard; null where it never said. */
  waiting: orNull(Counter()),
  /** What of it needs a person there. */
  needsPerson: orNull(Counter()),
  /** How full the storage of its browser is, from 0 to 1. */
  storageShare: orNull(Type.Number()),
  /** It runs an earlier version of the application than the district. */
  isEarlier: Type.Boolean(),
  /** Editions of datasets and registers that were published since it was last heard: it does not have them. */
  lacksEditions: Counter(),
})
export type DeviceLine = Static<typeof DeviceLine>

/** After so many days without a word a device is silent. */
export const SILENT_DAYS = 7
export const DEVICE_SHOWS = ['all', 'silent', 'silentWaiting', 'waiting', 'blocked'] as const
export const DeviceQuery = exact({
  show: Type.Optional(oneOf(...DEVICE_SHOWS)),
  /** A part of the name of its facility, or of its own. */
  find: Type.Optional(Type.String({ minLength: 1, maxLength: 100 })),
  /** The last one of the page before. */
  after: Type.Optional(Uuid),
})
export type DeviceQuery = Static<typeof DeviceQuery>
export const DeviceList = exact({
  lines: Type.Array(DeviceLine),
  more: Type.Boolean(),
  /** How many there are of each kind, whatever name is looked for. */
  counts: exact({
    ...{ all: Counter(), silent: Counter(), silentWaiting: Counter() },
    ...{ waiting: Counter(), blocked: Counter() },
  }),
})
export type DeviceList = Static<typeof DeviceList>

/** What a device did within some minutes. */
export const DeviceContact = exact({
  id: Counter(1),
  by: orNull(Type.String()),
  beganAt: Instant,
  lastAt: Instant,
  /** How many of its changes and forms the district received, refused, or has in conflict. */
  received: Counter(),
  refused: Counter(),
  conflicts: Counter(),
  waiting: orNull(Counter()),
  clockOffMs: orNull(Type.Integer()),
})
export type DeviceContact = Static<typeof DeviceContact>
export const DEVICE_ACTS = ['blocked', 'letIn', 'handedOver', 'pairedAgain'] as const
export const DeviceContacts = exact({
  lines: Type.Array(DeviceContact),
  more: Type.Boolean(),
  /** What was done with the device at the office, the last first. */
  acts: Type.Array(
    exact({ at: Instant, by: Type.String(), act: oneOf(...DEVICE_ACTS), text: orNull(Type.String()) }),
  ),
})
/** The public half of a key on the curve P-256 (RFC 7518, section 6.2.1). */
const Coordinate = Type.String({ pattern: '^[A-Za-z0-9_-]{43}$' })
const PublicJwk = exact({ kty: Type.Literal('EC'), crv: Type.Literal('P-256'), x: Coordinate, y: Coordinate })
const Keys = Type.Unsafe<PublicKeys>(exact({ sign: PublicJwk, agree: PublicJwk }))
export const PairAsked = exact({
  code: Type.String({ minLength: 4, maxLength: 40 }),
  name: Type.Optional(Type.String({ maxLength: 60 })),
  keys: Type.Optional(Keys),
})
/**
 * A device as it is from now on: its identity, its settings, and the keys of its district for carried files.
 */
export const Paired = exact({
  device: Uuid,
  /** Shown this once; the district keeps its hash. */ token: Type.String(),
  name: Type.String(),
  unit: UnitRef,
  settings: DeviceSettings,
  installation: Type.String(),
  district: Keys,
  now: Instant,
})
export type Paired = Static<typeof Paired>
/**
 * Signing in at a device: its token stands in `x-lantern-device`. With a one-time code the password is
 * chosen.
 */
export const DeskSignIn = exact({
  userName: Type.String({ minLength: 1, maxLength: 100 }),
  password: Type.String({ minLength: 1, maxLength: 200 }),
  code: Type.Optional(Type.String({ minLength: 1, maxLength: 40 })),
})
/**
 * A person at a device: the session that it shows from now on, and the secret that opens their work there
 * when the PIN was forgotten.
 */
export const DeskSession = exact({ session: Type.String(), recovery: Type.String(), view: SessionView })
export type DeskSession = Static<typeof DeskSession>
export const DeskStanding = exact({
  blocked: Type.Boolean(),
  letsIn: Type.Boolean(),
  settings: DeviceSettings,
})
/** To whom a device is handed over: its name from now on. */
export const HandOver = exact({ name: Type.String({ minLength: 2, maxLength: 80, pattern: VISIBLE }) })
export const Block = exact({ blocked: Type.Boolean(), letsIn: Type.Optional(Type.Boolean()) })
