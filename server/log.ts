/**
 * The server's log: one line a message. Never bodies, passwords or names: an error's own text and place only.
 */
export function log(message: string): void {
  process.stdout.write(`${message}\n`)
}

export function logError(message: string, error: unknown): void {
  const detail = error instanceof Error ? (error.stack ?? error.message) : String(error)
  process.stderr.write(`${message}: ${detail}\n`)
}
