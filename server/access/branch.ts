/** Does a branch hold the unit of this path? The path is dated: give the one of the days that matter. */
export const holds = (branch: string | null, path: readonly string[]): boolean =>
  branch === null || path.includes(branch)
