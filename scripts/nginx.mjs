/** nginx, for the test of the configuration that ships, from Debian's package. */
import { existsSync } from 'node:fs'
import { ensurePackages } from './debian.mjs'

export const NGINX = '/usr/sbin/nginx'

/** Installs it when it is missing and it may; else says in one line what to install, and ends. */
export const ensureNginx = () =>
  ensurePackages(['nginx-light'], () => existsSync(NGINX), 'The tests of several processes need nginx')
