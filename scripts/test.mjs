/**
 * `npm test`: types, lint, format, unit, API and browser tests, and the API tests on a PostgreSQL server, on a
 * machine that has only Node and npm. Ends with one line that adds up all suites: `N passed, N failed`.
 */
import { execFile as execFileBack } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join, relative } from 'node:path'
import { promisify } from 'node:util'
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

const execFile = promisify(execFileBack)

let passed = 0
let failed = 0
/** What failed and why, said once more at the end: it is far up by then. */
const failures = []

/** Runs a tool from node_modules. Several run beside each other, so each prints when it ends. */
async function step(name, tool, args) {
  const started = Date.now()
  console.log(`\n== ${name} …`)
  const { failure, stdout, stderr } = await execFile(
    process.execPath,
    [join(ROOT, 'node_modules', tool), ...args],
    { cwd: ROOT, maxBuffer: 64 * 1024 * 1024 },
  ).catch(failure => ({ failure, ...failure }))
  const seconds = Math.round((Date.now() - started) / 1000)
  console.log(`\n== ${name}: ${seconds} s\n${stdout ?? ''}${stderr ?? ''}`)
  return !failure
}

/** Types, lint and format count as one check each. */
async function check(name, tool, args) {
  if (await step(name, tool, args)) passed++
  else {
    failed++
    failures.push(name)
  }
}

/** @param tool what runs it, from node_modules; Vitest with the project of that name if nothing is said. */
async function suite(name, tool = 'vitest/vitest.mjs', args = ['run', '--project', name]) {
  const file = join(results, `${name}.json`)
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${file}`]
  const fine = await step(`${name} tests`, tool, [...args, ...reporters])
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
    for (const { fullName, failureMessages } of own)
      failures.push(`${relative(ROOT, path)}: ${fullName}\n${(failureMessages[0] ?? '').slice(0, 1500)}`)
    if (!own.length && message) failures.push(`${relative(ROOT, path)}: ${message}`)
  }
  if (!fine && counted.numFailedTests === 0) {
    failed++
    failures.push(`${name} tests: they did not start, or did not end`)
  }
}

// Nuxt writes its types first: the check after it reads them.
await Promise.all([
  check('types', 'nuxt/bin/nuxt.mjs', ['typecheck']),
  check('lint', 'eslint/bin/eslint.js', ['.']),
])
await Promise.all([
  // Nuxt's own check sees what the application imports: tests, demo and bench have a project beside it.
  check('types of the tests', 'vue-tsc/bin/vue-tsc.js', ['--noEmit', '-p', 'tsconfig.tests.json']),
  check('imports', '../scripts/imports.mjs', []),
  check('format', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']),
])
await suite('unit')
await suite('alone')
// What one of these waits for (a disk, a process that starts anew), the other calculates.
await Promise.all([
  suite('postgres', '../scripts/test-postgres.mjs', []),
  suite('api').then(() => suite('faults')),
])
await suite('browser')

for (const failure of failures) console.log(`failed: ${failure}`)
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed ? 1 : 0)
