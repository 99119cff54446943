/**
 * How values arrive from both engines, by the number of their type in PostgreSQL's catalog. Timestamps are
 * ISO text and days plain days: `Date` objects would bring a clock's time zone into them.
 */
export const PARSERS = {
  1082: (text: string) => text, // date
  1114: (text: string) => text, // timestamp
  1184: (text: string) => new Date(text).toISOString(), // timestamptz
  20: (text: string) => Number(text), // bigint: our counters stay far below 2^53
}
