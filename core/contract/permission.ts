/** Who a person is to the installation. */
export type Role = 'administrator' | 'officer' | 'clerk' | 'reader'

export const ROLES: readonly Role[] = ['administrator', 'officer', 'clerk', 'reader']

/** What a route may ask for. `open` asks for nothing, `signedIn` for any person. */
export type Permission =
  | 'open'
  | 'signedIn'
  /** See reports, rounds, district reports and discrepancies of the own branch. */
  | 'look'
  /** Fill, change and send the reports of the own branch. */
  | 'fill'
  /** Answer what was asked about the reports of the own branch. */
  | 'answer'
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

const GRANTS: Record<Role, readonly Permission[]> = {
  administrator: ['look', 'manageUnits', 'define'],
  officer: ['look', 'comment', 'resolve', 'sign', 'define'],
  clerk: ['look', 'fill', 'answer', 'comment'],
  reader: ['look'],
}

/** May a person of this role (null: nobody is signed in) do what a permission names? */
export function may(role: Role | null, permission: Permission): boolean {
  if (permission === 'open') return true
  if (!role) return false
  return permission === 'signedIn' || GRANTS[role].includes(permission)
}
