/** Who a person is to the installation. */
export type Role = 'administrator' | 'officer' | 'clerk' | 'reader'

export const ROLES: readonly Role[] = ['administrator', 'officer', 'clerk', 'reader']

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
  /** See who opened the file of a case. */
  | 'seeOpenings'
  /** See what the installation does by itself, start it by hand, and stop it. */
  | 'operate'

const GRANTS: Record<Role, readonly Permission[]> = {
  administrator: ['look', 'manageUnits', 'define', 'managePeople', 'manageDevices', 'seeOpenings', 'operate'],
  officer: [
    'look',
    'comment',
    'resolve',
    'sign',
    'define',
    'manageDevices',
    'enterPaper',
    'manageCases',
    'seeOpenings',
  ],
  clerk: ['look', 'fill', 'comment', 'manageCases'],
  reader: ['look'],
}

/** May a person of this role (null: nobody is signed in) do what a permission names? */
export function may(role: Role | null, permission: Permission): boolean {
  if (permission === 'open') return true
  if (!role) return false
  return permission === 'signedIn' || GRANTS[role].includes(permission)
}

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
  openings: 'seeOpenings',
  operate: 'operate',
} as const satisfies Record<string, Permission>
