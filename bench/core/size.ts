import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { build } from 'esbuild'
import { measurement, type Measurement } from '../measure'

const MOST_KB = 60

/** The core as the facility's device would load it: bundled with its packages, minified, compressed. */
export async function size(): Promise<Measurement[]> {
  const root = process.cwd()
  const { outputFiles } = await build({
    entryPoints: [join(root, 'bench/core/desk-parts.ts')],
    bundle: true,
    minify: true,
    format: 'esm',
    target: 'es2022',
    platform: 'browser',
    write: false,
    treeShaking: true,
    alias: { '#core': join(root, 'core') },
    logLevel: 'warning',
  })
  return [
    measurement(
      'the core for the desk, gzip',
      gzipSync(outputFiles[0]!.contents, { level: 9 }).length / 1024,
      MOST_KB,
      'what a desk may load',
      'KB',
      1,
    ),
  ]
}
