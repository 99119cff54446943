import { spawn } from 'node:child_process'

/** How long a process runs and rests together, in milliseconds. */
const TURN_MS = 20

/** Stops and continues a process by turns. In a process of its own: what measures is busy with measuring. */
const BY_TURNS = `const [pid, runs, rests] = process.argv.slice(1).map(Number)
const cell = new Int32Array(new SharedArrayBuffer(4))
for (;;) {
  process.kill(pid, 'SIGCONT'); Atomics.wait(cell, 0, 0, runs)
  process.kill(pid, 'SIGSTOP'); Atomics.wait(cell, 0, 0, rests)
}`

/**
 * Gives a process only a share of a processor, as if it ran on a slower one.
 * @param share above 0 and below 1
 * @returns gives it back its whole speed
 */
export function slowProcess(pid: number, share: number): () => void {
  const runs = Math.round(TURN_MS * share)
  const child = spawn(process.execPath, ['-e', BY_TURNS, String(pid), String(runs), String(TURN_MS - runs)], {
    stdio: 'inherit',
  })
  return () => {
    child.kill('SIGKILL')
    process.kill(pid, 'SIGCONT')
  }
}
