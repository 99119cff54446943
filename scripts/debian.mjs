/** Programs that come from Debian's packages: the browser, the PostgreSQL server, the proxy. */
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'

/**
 * Installs packages when something of them is missing and it may; else says in one line what to install, and
 * ends.
 * @param what who needs which programs, as `The browser tests need Chromium and ChromeDriver`
 */
export function ensurePackages(packages, isThere, what) {
  if (isThere()) return
  if (process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')) {
    console.log(`Installing ${packages.join(' and ')} …`)
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit' })
    spawnSync('apt-get', ['install', '-y', '-qq', ...packages], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  }
  if (isThere()) return
  console.error(
    `${what}: install Debian’s packages (apt-get install ${packages.join(' ')}), then run this again.`,
  )
  process.exit(1)
}
