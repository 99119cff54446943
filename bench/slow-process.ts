import { spawn } from 'node:child_process'

/** How long a process runs and rests together, in milliseconds. */
const TURN_MS = 20

/**
 * Continues and stops processes by turns. In a process of its own: what measures is busy with measuring. One after
 * the other, because processes that run in the same moments take the processors from one another.
 */
const BY_TURNS = `const cell = new Int32Array(new SharedArrayBuffer(4))
const [runs, rests, ...pids] = process.argv.slice(1).map(Number)
for (const pid of pids) process.kill(pid, 'SIGSTOP')
for (;;) for (const pid of pids) {
  process.kill(pid, 'SIGCONT'); Atomics.wait(cell, 0, 0, runs)
  process.kill(pid, 'SIGSTOP'); Atomics.wait(cell, 0, 0, rests)
}`

/**
 * Gives each of some processes only a share of a processor, as if it ran on a slower one.
 * @param share above 0 and below 1; all of them together no more than 1
 * @returns gives them back their whole speed
 */
export function slowProcesses(pids: readonly number[], share: number): () => void {
  const runs = Math.round(TURN_MS * share)
  const rests = TURN_MS / pids.length - runs
  const child = spawn(process.execPath, ['-e', BY_TURNS, ...[runs, rests, ...pids].map(String)], {
    stdio: 'inherit',
  })
  return () => {
    child.kill('SIGKILL')
    for (const pid of pids) process.kill(pid, 'SIGCONT')
  }
}
