/**
 * Import this first in a test of use-cases: the database is one in memory, and the clock stands at a known
 * day. It begins with its tables made (tests/support/memory-start.ts).
 */
process.env.LANTERN_DATA = 'memory:'
process.env.LANTERN_NOW = '2026-11-05T12:00:00Z'
process.env.LANTERN_MEMORY_START = process.env.LANTERN_TEST_MEMORY
