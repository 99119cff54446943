import { ensureDemo } from '../../scripts/demo-data.mjs'
import { ensureBuilt } from '../../scripts/setup.mjs'

/** Before tests that start a server: the build, and the demo's database that each of them copies. */
export default async function prepare(): Promise<void> {
  ensureBuilt()
  await ensureDemo()
}
