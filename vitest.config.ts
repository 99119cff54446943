import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'
import { sqlText } from './scripts/sql-text.mjs'

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url))
const shared = { resolve: { alias: { '#core': at('./core'), '~': at('./app') } }, plugins: [sqlText()] }

export default defineConfig({
  test: {
    projects: [
      {
        ...shared,
        test: {
          name: 'unit',
          include: [
            'core/**/*.test.ts',
            'server/**/*.test.ts',
            'demo/**/*.test.ts',
            'app/**/*.test.ts',
            'tests/use-cases/**/*.test.ts',
          ],
          globalSetup: ['tests/support/memory-start.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
          // Vitest leaves one processor free, which on a machine with two is half of it.
          maxWorkers: Math.max(2, availableParallelism() - 1),
        },
      },
      {
        ...shared,
        test: {
          name: 'api',
          include: ['tests/api/**/*.test.ts'],
          globalSetup: ['tests/support/prepare.ts', 'tests/support/api-server.ts'],
          testTimeout: 60_000,
          hookTimeout: 180_000,
          fileParallelism: false,
        },
      },
      {
        ...shared,
        test: {
          name: 'alone',
          // They measure time: nothing may run beside them.
          include: ['tests/alone/**/*.test.ts'],
          globalSetup: ['tests/support/prepare.ts'],
          testTimeout: 60_000,
          hookTimeout: 180_000,
          fileParallelism: false,
        },
      },
      {
        ...shared,
        test: {
          name: 'races',
          // On a PostgreSQL server only: npm run test:postgres makes one.
          include: process.env.LANTERN_TEST_POSTGRES ? ['tests/races/**/*.test.ts'] : [],
          testTimeout: 120_000,
          hookTimeout: 180_000,
          fileParallelism: false,
        },
      },
      {
        ...shared,
        test: {
          name: 'faults',
          include: ['tests/faults/**/*.test.ts'],
          maxWorkers: 2,
          globalSetup: ['tests/support/prepare.ts'],
          // Fifty power cuts and a backup of all that there is take minutes where other tests calculate too.
          testTimeout: 600_000,
          hookTimeout: 240_000,
        },
      },
      {
        ...shared,
        test: {
          name: 'browser',
          include: ['tests/browser/**/*.test.ts'],
          globalSetup: ['tests/support/prepare.ts'],
          testTimeout: 240_000,
          hookTimeout: 240_000,
          // Each file has its own server, data and browser; they wait more than they calculate.
          maxWorkers: 2,
        },
      },
    ],
  },
})
