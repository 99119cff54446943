import { existsSync, readFileSync } from 'node:fs'

/** Time of the processors since the machine began, in ticks of the kernel: all of it, and what the host took away. */
interface Ticks {
  all: number
  stolen: number
}

/** The head of `/proc/stat`: user, nice, system, idle, iowait, irq, softirq, steal (proc_stat(5)). */
function ticks(): Ticks | null {
  if (!existsSync('/proc/stat')) return null
  const numbers = readFileSync('/proc/stat', 'utf8')
    .split('\n', 1)[0]!
    .trim()
    .split(/\s+/)
    .slice(1, 9)
    .map(Number)
  return { all: numbers.reduce((sum, one) => sum + one, 0), stolen: numbers[7] ?? 0 }
}

const begun = ticks()

/**
 * Which share of the processors the host gave to other machines since this process began, from 0 to 1; null where
 * the system does not tell. A time that was measured meanwhile is longer by as much or more.
 */
export function stolenShare(): number | null {
  const now = ticks()
  if (!begun || !now || now.all === begun.all) return null
  return (now.stolen - begun.stolen) / (now.all - begun.all)
}
