import { Type, type Static } from '@sinclair/typebox'
import type { Answers } from '../form/answer'
import {
  Count,
  exact,
  Instant,
  oneOf,
  orNull,
  RoleName,
  shapeOf,
  UnitCode,
  UnitRef,
  Uuid,
  Words,
} from './common'
import { REMOVABLE } from './permission'
import { VISIBLE } from './wire'

export const SignIn = exact({
  userName: Type.String({ minLength: 1, maxLength: 100 }),
  password: Type.String({ minLength: 1, maxLength: 200 }),
})

export const FirstAdministrator = exact({
  code: Type.String({ minLength: 1, maxLength: 40 }),
  installation: Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE }),
  timeZone: Type.String({ minLength: 2, maxLength: 60 }),
  userName: Type.String({ minLength: 3, maxLength: 100, pattern: '^[^\\s\\p{C}]+$' }),
  displayName: Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE }),
  password: Type.String({ minLength: 10, maxLength: 200 }),
})

export const SessionView = exact({
  person: exact({
    id: Uuid,
    userName: Type.String(),
    displayName: Type.String(),
    role: RoleName,
    without: Type.Array(oneOf(...REMOVABLE)),
    /** The person sees a part of the branch's data only. */
    isLimited: Type.Boolean(),
  }),
  /** The part of the tree that the person sees, with all above it; null sees everything. */
  branch: orNull(exact({ unit: UnitRef, level: Type.Integer(), above: Type.Array(UnitRef) })),
  /** Districts that the person may look at, for those whose branch is wider than one. */
  districts: Type.Array(UnitRef),
  installation: Type.String(),
  timeZone: Type.String(),
  now: Instant,
})
export type SessionView = Static<typeof SessionView>

export const SetupView = exact({ needed: Type.Boolean() })

export const Health = exact({
  state: oneOf('ready'),
  version: Type.String(),
  engine: Type.String(),
  engineVersion: Type.String(),
  migration: Type.Integer(),
})

/**
 * A place to jump to. `of`: the newest round for units, the round itself, an item's dataset, a case's
 * register.
 */
export const SearchHit = exact({
  kind: oneOf('facility', 'district', 'unit', 'round', 'item', 'case', 'person'),
  code: Type.String(),
  name: Words,
  path: Type.String(),
  of: orNull(Type.String()),
  /** Of a case: the answers of its line, by which it is named as everywhere. */
  answers: Type.Optional(shapeOf<Answers>('What is known of the questions of its line, by question')),
})
export type SearchHit = Static<typeof SearchHit>

const UserName = Type.String({ minLength: 3, maxLength: 100, pattern: '^[^\\s\\p{C}]+$' })
const DisplayName = Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE })
const Code = Type.String({ pattern: '^[a-z][a-z0-9_]{0,62}$' })

/** What of the branch a reader or a clerk sees, where that is not everything. */
export const Sharing = exact({
  /** Reports of these datasets; null is all of them. */
  datasets: orNull(Type.Array(Code, { maxItems: 200 })),
  /** Cases of these registers; null is all of them. */
  registers: orNull(
    Type.Array(
      exact({
        register: Code,
        /**
         * Only cases whose latest answers meet this: what core/cases/answer-filter reads; empty for all, as for each
         * clerk.
         */
        where: Type.String({ maxLength: 2000 }),
      }),
      { maxItems: 200 },
    ),
  ),
})
export type Sharing = Static<typeof Sharing>

const Place = { role: RoleName, branch: orNull(UnitCode), ownOnly: Type.Boolean() }
/** What the role may do and this person may not. */
const Without = Type.Array(oneOf(...REMOVABLE), { maxItems: REMOVABLE.length, uniqueItems: true })
/** What of the branch a person sees: null is everything. Who may see a part: {@link maySeePart}. */
const Shared = orNull(Sharing)

export const PersonLine = exact({
  id: Uuid,
  userName: Type.String(),
  displayName: Type.String(),
  ...Place,
  branch: orNull(UnitRef),
  without: Without,
  sharing: Shared,
  active: Type.Boolean(),
  lastSeenAt: orNull(Instant),
  /** Has the person chosen a password? */
  cameIn: Type.Boolean(),
  /** A code that still lets them in, until then. */
  codeUntil: orNull(Instant),
})
export type PersonLine = Static<typeof PersonLine>
export const PeopleQuery = exact({
  /** Parts of the name, of the user name or of the area. */
  find: Type.Optional(Type.String({ minLength: 1, maxLength: 100 })),
  /** The last one of the page before. */
  after: Type.Optional(Uuid),
})
export type PeopleQuery = Static<typeof PeopleQuery>
export const PeopleList = exact({
  lines: Type.Array(PersonLine),
  more: Type.Boolean(),
  /** How many there are in all, whatever is sought. */
  count: Count,
})
export type PeopleList = Static<typeof PeopleList>
export const PersonNew = exact({
  ...{ userName: UserName, displayName: DisplayName, ...Place },
  without: Type.Optional(Without),
  sharing: Type.Optional(Shared),
})
export type PersonNew = Static<typeof PersonNew>
export const PersonChange = exact({
  ...{ displayName: DisplayName, ...Place, active: Type.Boolean() },
  without: Without,
  sharing: Shared,
})
export type PersonChange = Static<typeof PersonChange>
/** Shown once: only its hash is kept. */
export const OneTimeCode = exact({ id: Uuid, userName: Type.String(), code: Type.String(), until: Instant })
export type OneTimeCode = Static<typeof OneTimeCode>
export const CodeSignIn = exact({
  userName: Type.String({ minLength: 1, maxLength: 100 }),
  code: Type.String({ minLength: 1, maxLength: 40 }),
  password: Type.String({ minLength: 10, maxLength: 200 }),
})
