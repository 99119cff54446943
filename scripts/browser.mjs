/** Chromium and its driver for the browser tests, from Debian's packages. */
import { existsSync } from 'node:fs'
import { ensurePackages } from './debian.mjs'

export const CHROMIUM = '/usr/bin/chromium'
export const CHROMEDRIVER = '/usr/bin/chromedriver'

/** Installs them when they are missing and it may; else says in one line what to install, and ends. */
export const ensureBrowser = () =>
  ensurePackages(
    ['chromium', 'chromium-driver'],
    () => existsSync(CHROMIUM) && existsSync(CHROMEDRIVER),
    'The browser tests need Chromium and ChromeDriver',
  )
