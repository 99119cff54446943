/** Who a person is to the installation. */
export type Role = 'administrator' | 'officer' | 'clerk' | 'reader'

export const ROLES: readonly Role[] = ['administrator', 'officer', 'clerk', 'reader']

/** Who asks: a person, or a program of another system that shows a token. */
export type AskerRole = Role | 'machine'

/** What a route may ask for. `open` asks for nothing, `signedIn` for any person. */
export type Permission =
  | 'open'
  | 'signedIn'
  /** See reports, rounds, district reports and discrepancies of the own branch. */
  | 'look'
  /** Fill, change and send the reports of the own branch, and answer what is asked about them. */
  | 'fill'
  /** Write a comment at a cell. */
  | 'comment'
  /** Accept and send back reports; ask about discrepancies and settle them. */
  | 'resolve'
  /** Sign the district report. */
  | 'sign'
  /** Add, rename, move and close organisation units of the own branch. */
  | 'manageUnits'
  /** Define what is reported: drafts of datasets, and publishing them. */
  | 'define'
  /** Make people, give them a role and a branch, let them in by a code, switch them off. */
  | 'managePeople'
  /** Pair devices with facilities of the own branch, and block them. */
  | 'manageDevices'
  /** Enter the case forms that facilities of the own branch filled on paper. */
  | 'enterPaper'
  /** Give cases of the own branch to other facilities, close them, and open them again. */
  | 'manageCases'
  /** Keep whom to call at the facilities of the own branch, and remind them by text message. */
  | 'nudge'
  /** Plan visits to facilities of the own branch, and count their reports again there. */
  | 'visit'
  /** Take reports and cases of the own branch out, in files. */
  | 'extract'
  /** Take personal answers out with them. */
  | 'extractPersonal'
  /** See who opened the file of a case, and who took out what. */
  | 'seeOpenings'
  /** See what the installation does by itself, start it by hand, and stop it. */
  | 'operate'

const GRANTS: Record<AskerRole, readonly Permission[]> = {
  administrator: [
    'look',
    'manageUnits',
    'define',
    'managePeople',
    'manageDevices',
    'nudge',
    'extract',
    'seeOpenings',
    'operate',
  ],
  officer: [
    'look',
    'comment',
    'resolve',
    'sign',
    'define',
    'manageDevices',
    'enterPaper',
    'manageCases',
    'nudge',
    'visit',
    'extract',
    'extractPersonal',
    'seeOpenings',
  ],
  clerk: ['look', 'fill', 'comment', 'manageCases'],
  reader: ['look', 'extract'],
  // The most that a token can give; a route must be open to programs besides.
  machine: ['look', 'extract', 'extractPersonal', 'manageUnits'],
}

/** A role, without what an administrator took away from this person. */
export interface Asker {
  role: AskerRole
  without: readonly Permission[]
}

/** What a role may do, if nothing is taken away. */
export const grantsOf = (role: AskerRole): readonly Permission[] => GRANTS[role]

/** May a person (null: nobody is signed in) do what a permission names? */
export function may(asker: Asker | null, permission: Permission): boolean {
  if (permission === 'open') return true
  if (!asker) return false
  if (permission === 'signedIn') return true
  return GRANTS[asker.role].includes(permission) && !asker.without.includes(permission)
}

/**
 * Can a person of this role be held to some datasets and registers? An officer answers for all of the branch, an
 * administrator for what everybody uses.
 */
export const maySeePart = (role: Role): boolean => role === 'reader' || role === 'clerk'

/**
 * Can it be held to some cases of a register, by their answers? A clerk's device hears what happens, not what is:
 * which cases meet a condition it could not know.
 */
export const maySeeSomeCases = (role: Role): boolean => role === 'reader'

/** What a role may do, in words of the work: the rows of the table that the administrator reads. */
export const DUTIES = {
  see: 'look',
  fill: 'fill',
  answer: 'fill',
  comment: 'comment',
  resolve: 'resolve',
  sign: 'sign',
  design: 'define',
  units: 'manageUnits',
  people: 'managePeople',
  devices: 'manageDevices',
  paper: 'enterPaper',
  cases: 'manageCases',
  nudges: 'nudge',
  visits: 'visit',
  extracts: 'extract',
  personal: 'extractPersonal',
  openings: 'seeOpenings',
  operate: 'operate',
} as const satisfies Record<string, Permission>

/** What can be taken away from one person. Who may not even look is switched off instead. */
export const REMOVABLE: readonly Permission[] = [...new Set(Object.values(DUTIES))].filter(
  permission => permission !== 'look',
)

/** What a token may give besides looking: reports and cases, personal answers with them, changing the units. */
export const TOKEN_GIVES = [
  'extract',
  'extractPersonal',
  'manageUnits',
] as const satisfies readonly Permission[]
export type TokenGives = (typeof TOKEN_GIVES)[number]
