/** Chromium and its driver for the browser tests, from Debian's packages. */
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'

export const CHROMIUM = '/usr/bin/chromium'
export const CHROMEDRIVER = '/usr/bin/chromedriver'

const there = () => existsSync(CHROMIUM) && existsSync(CHROMEDRIVER)

/** Installs them when they are missing and it may; else says in one line what to install, and ends. */
export function ensureBrowser() {
  if (there()) return
  const mayInstall = process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')
  if (mayInstall) {
    console.log('Installing chromium and chromium-driver …')
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit' })
    spawnSync('apt-get', ['install', '-y', '-qq', 'chromium', 'chromium-driver'], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  }
  if (there()) return
  console.error(
    'The browser tests need Chromium and ChromeDriver: install Debian’s packages chromium and chromium-driver (apt-get install chromium chromium-driver), then run npm test again.',
  )
  process.exit(1)
}
