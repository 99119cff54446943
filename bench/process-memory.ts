import { readFileSync } from 'node:fs'

/** What a process holds in memory, in megabytes: now (`VmRSS`), or at the most so far (`VmHWM`). */
export const memoryOf = (pid: number, which: 'VmRSS' | 'VmHWM' = 'VmRSS'): number =>
  Number(new RegExp(`${which}:\\s+(\\d+) kB`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024
