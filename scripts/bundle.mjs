/** Bundles TypeScript that uses the server's modules, so that plain Node runs it: measurements, and filling the demo. */
import { join } from 'node:path'
import { ROOT } from './setup.mjs'

/**
 * @param entry the file, from the project's folder.
 * @param name of the bundle in `.data`. It may begin with a folder, but not where the project's scripts are part of
 *   the bundle: they look for the root one folder above it.
 * @returns the bundle.
 */
export async function bundle(entry, name) {
  const { build } = await import('esbuild')
  const outfile = join(ROOT, '.data', `${name}.mjs`)
  await build({
    entryPoints: [join(ROOT, entry)],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    loader: { '.sql': 'text' },
    alias: { '#core': join(ROOT, 'core') },
    logLevel: 'warning',
  })
  return outfile
}
