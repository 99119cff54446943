/**
 * For queries: some columns of all rows of a group as one text, for {@link rowsOfText}. A thousand rows, or their
 * JSON, take the embedded engine three times as long, while everybody waits for it.
 * @param columns codes, states and whole numbers: nothing that may hold a space or a comma
 * @example rowText('unit', 'state') // 'elm sent,oak draft'
 */
export const rowText = (...columns: readonly string[]): string =>
  `string_agg(concat_ws(' ', ${columns.map(column => `coalesce((${column})::text, '')`).join(', ')}), ',')`

/** For {@link rowText}: a point in time, in milliseconds since 1970. */
export const msOf = (instant: string): string => `floor(date_part('epoch', ${instant}) * 1000)::bigint`

/** The columns of each row of a {@link rowText}. What is null in the database is an empty text. */
export const rowsOfText = (text: string | null): string[][] =>
  text ? text.split(',').map(row => row.split(' ')) : []

/** A number, or a point in time, of a {@link rowText}; null where the database has none. */
export const numberOrNull = (text: string): number | null => (text === '' ? null : Number(text))
