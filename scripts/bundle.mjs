/** Bundles TypeScript that uses the server's modules, so that plain Node runs it: measurements, and filling the demo. */
import { join } from 'node:path'
import { ROOT } from './setup.mjs'

/**
 * @param entry the file, from the project's folder.
 * @param name of the bundle in `.data`. What uses the project's scripts has none of a folder in it: they find the
 *   root one folder above where they stand.
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
