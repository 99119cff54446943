/**
 * `npm test`: types, lint, format, unit, API and browser tests, and the API tests on a PostgreSQL server, on a
 * machine that has only Node and npm. Ends with one line that adds up all suites: `N passed, N failed`.
 */
import { spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join, relative } from 'node:path'
import { ensureBrowser } from './browser.mjs'
import { ensureDemo } from './demo-data.mjs'
import { ensureNginx } from './nginx.mjs'
import { ensurePostgres } from './postgres.mjs'
import { ensureBuilt, ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
ensureBrowser()
ensurePostgres()
ensureNginx()
ensureBuilt()
await ensureDemo()

const results = join(ROOT, '.data', 'test-results')
rmSync(results, { recursive: true, force: true })
mkdirSync(results, { recursive: true })

let passed = 0
let failed = 0
/** What failed, by name, said once more at the end: it is far up by then. */
const failures = []

function step(name, tool, args) {
  console.log(`\n== ${name}`)
  const { status } = spawnSync(process.execPath, [join(ROOT, 'node_modules', tool), ...args], {
    cwd: ROOT,
    stdio: 'inherit',
  })
  return status === 0
}

/** Types, lint and format count as one check each. */
function check(name, tool, args) {
  if (step(name, tool, args)) passed++
  else {
    failed++
    failures.push(name)
  }
}

/** @param tool what runs it, from node_modules; Vitest with the project of that name if nothing is said. */
function suite(name, tool = 'vitest/vitest.mjs', args = ['run', '--project', name]) {
  const file = join(results, `${name}.json`)
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${file}`]
  const fine = step(`${name} tests`, tool, [...args, ...reporters])
  let counted = { numPassedTests: 0, numFailedTests: 0 }
  try {
    counted = JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    console.error(`The ${name} tests left no result.`)
  }
  passed += counted.numPassedTests
  failed += counted.numFailedTests
  for (const { name: path, assertionResults, message } of counted.testResults ?? []) {
    const own = assertionResults.filter(({ status }) => status === 'failed')
    failures.push(...own.map(({ fullName }) => `${relative(ROOT, path)}: ${fullName}`))
    if (!own.length && message) failures.push(`${relative(ROOT, path)}: ${message}`)
  }
  // A suite that fails without a failed test did not even start.
  if (!fine && counted.numFailedTests === 0) failed++
}

check('types', 'nuxt/bin/nuxt.mjs', ['typecheck'])
check('lint', 'eslint/bin/eslint.js', ['.'])
check('imports', '../scripts/imports.mjs', [])
check('format', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.'])
for (const name of ['unit', 'api', 'faults']) suite(name)
suite('postgres', '../scripts/test-postgres.mjs', [])
suite('browser')

for (const failure of failures) console.log(`failed: ${failure}`)
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed ? 1 : 0)
