/**
 * `npm run imports`: draws what each part of the server imports, layer by layer, and fails on an import that
 * goes up, sideways or in a circle. Tests may import anything.
 */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { SERVER_LAYERS } from './server-layers.mjs'

const SERVER = fileURLToPath(new URL('../server', import.meta.url))
const levelOf = new Map(SERVER_LAYERS.flatMap((parts, level) => parts.map(part => [part, level])))

const filesIn = folder =>
  readdirSync(folder).flatMap(name => {
    const path = join(folder, name)
    if (statSync(path).isDirectory()) return filesIn(path)
    return name.endsWith('.ts') && !name.endsWith('.test.ts') ? [path] : []
  })

/** The part of the server that a file belongs to: its first folder, or its own name. */
const partOf = path => relative(SERVER, path).split('/')[0].replace(/\.ts$/, '')

const targetOf = (from, specifier) => {
  const path = resolve(dirname(from), specifier)
  return [path, `${path}.ts`, join(path, 'index.ts')].find(one => existsSync(one) && statSync(one).isFile())
}

const arrows = new Map()
const wrong = []
for (const file of filesIn(SERVER)) {
  const part = partOf(file)
  if (!levelOf.has(part)) wrong.push(`${relative(SERVER, file)}: “${part}” is in no layer`)
  const text = readFileSync(file, 'utf8')
  for (const [, specifier] of text.matchAll(/(?:from|import\()\s*'(\.[^']+)'/g)) {
    const target = targetOf(file, specifier)
    if (!target?.startsWith(SERVER) || partOf(target) === part) continue
    const other = partOf(target)
    arrows.set(part, (arrows.get(part) ?? new Set()).add(other))
    if (!(levelOf.get(other) < levelOf.get(part)))
      wrong.push(
        `${relative(SERVER, file)} imports ${relative(SERVER, target)}: ${other} is not below ${part}`,
      )
  }
}

for (const parts of [...SERVER_LAYERS].reverse())
  for (const part of parts)
    console.log(`${part.padEnd(17)} → ${[...(arrows.get(part) ?? [])].sort().join(', ') || '–'}`)
for (const line of wrong) console.error(line)
console.log(wrong.length ? `\n${wrong.length} imports go the wrong way.` : '\nAll arrows go down.')
process.exit(wrong.length ? 1 : 0)
