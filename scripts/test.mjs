/**
 * `npm test`: types, lint, format, unit, API and browser tests, and the API tests on a PostgreSQL server, on a
 * machine that has only Node and npm. Ends with one line that adds up all suites: `N passed, N failed`.
 */
import { execFile as execFileBack, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join, relative } from 'node:path'
import { promisify } from 'node:util'
import { ensureBrowser } from './browser.mjs'
import { ensureNginx } from './nginx.mjs'
import { ensurePostgres } from './postgres.mjs'
import { ensureInstalled, ROOT } from './setup.mjs'

ensureInstalled()
ensureBrowser()
ensurePostgres()
ensureNginx()
// Neither needs the other, and each calculates on one processor: side by side they take a minute or two less.
await Promise.all([beside('setup.mjs', 'ensureBuilt'), beside('demo-data.mjs', 'ensureDemo')])

const results = join(ROOT, '.data', 'test-results')
rmSync(results, { recursive: true, force: true })
mkdirSync(results, { recursive: true })

const execFile = promisify(execFileBack)

let passed = 0
let failed = 0
/** What failed and why, said once more at the end: it is far up by then. */
const failures = []
/** What failed at first and ran once more. */
const unsteady = []

/** Calls a function of a script in a process of its own. Where it fails, nothing can be tested. */
async function beside(script, name) {
  const call = `await (await import('./scripts/${script}')).${name}()`
  const child = spawn(process.execPath, ['--input-type=module', '-e', call], { cwd: ROOT, stdio: 'inherit' })
  const [status] = await once(child, 'exit')
  if (status !== 0) process.exit(status ?? 1)
}

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

/**
 * Runs Vitest, or what `tool` names, and reads what it counted.
 * @returns whether all was fine, and its report as JSON; nothing where it left none
 */
async function run(name, tool, args) {
  const file = join(results, `${name.replaceAll(' ', '-')}.json`)
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${file}`]
  const fine = await step(`${name} tests`, tool, [...args, ...reporters])
  try {
    return { fine, counted: JSON.parse(readFileSync(file, 'utf8')) }
  } catch {
    console.error(`The ${name} tests left no result.`)
    return { fine, counted: { numPassedTests: 0, numFailedTests: 0, testResults: [] } }
  }
}

/** What failed in a report of Vitest, with the file that it stands in. */
const failuresIn = ({ testResults }) =>
  testResults.flatMap(({ name: path, assertionResults, message }) => {
    const own = assertionResults.filter(({ status }) => status === 'failed')
    const at = relative(ROOT, path)
    if (own.length)
      return own.map(({ fullName, failureMessages }) => ({
        path,
        said: `${at}: ${fullName}\n${(failureMessages[0] ?? '').slice(0, 1500)}`,
      }))
    return message ? [{ path, said: `${at}: ${message}` }] : []
  })

function count(name, { fine, counted }) {
  passed += counted.numPassedTests
  failed += counted.numFailedTests
  failures.push(...failuresIn(counted).map(({ said }) => said))
  if (!fine && counted.numFailedTests === 0) {
    failed++
    failures.push(`${name} tests: they did not start, or did not end`)
  }
}

/** @param tool what runs it, from node_modules; Vitest with the project of that name if nothing is said. */
async function suite(name, tool = 'vitest/vitest.mjs', args = ['run', '--project', name]) {
  count(name, await run(name, tool, args))
}

/** More files than these that fail are no accident. */
const MOST_AGAIN = 2

/**
 * The browser tests. Two browsers, two servers and the driver share two processors with whatever else runs on the
 * machine: now and then a click goes astray. One or two files that failed run once more, alone, and what they say
 * then counts; what failed at first is said at the end, so that somebody looks at it (docs/decisions/0058).
 */
async function browserSuite() {
  const args = ['run', '--project', 'browser']
  const first = await run('browser', 'vitest/vitest.mjs', args)
  const again = [...new Set(failuresIn(first.counted).map(({ path }) => path))]
  if (!again.length || again.length > MOST_AGAIN) return count('browser', first)
  unsteady.push(...failuresIn(first.counted).map(({ said }) => said))
  const kept = first.counted.testResults.filter(({ name }) => !again.includes(name))
  const tests = kept.flatMap(({ assertionResults }) => assertionResults)
  passed += tests.filter(({ status }) => status === 'passed').length
  count('browser again', await run('browser again', 'vitest/vitest.mjs', [...args, ...again]))
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
await browserSuite()

for (const one of unsteady) console.log(`failed at first: ${one}`)
for (const failure of failures) console.log(`failed: ${failure}`)
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed ? 1 : 0)
