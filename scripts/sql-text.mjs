import { readFileSync } from 'node:fs'

/** A Vite plugin for Vitest, as Nitro does by itself: `import text from './x.sql'` gives the file's text. */
export function sqlText() {
  return {
    name: 'sql-text',
    load(id) {
      if (id.endsWith('.sql'))
        return { code: `export default ${JSON.stringify(readFileSync(id, 'utf8'))}`, map: null }
    },
  }
}
