import { setResponseHeaders, type H3Event } from 'h3'

/** The letters of a name that RFC 8187 does not take as they are, encoded. */
const encoded = (name: string) =>
  encodeURIComponent(name).replace(/['()*]/g, sign => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`)

/**
 * The header by which a browser saves an answer as a file of this name (RFC 6266). Units and rounds have slashes in
 * their codes, which are no part of a name.
 * @example savedAs('Été 2026.csv') // "attachment; filename*=UTF-8''%C3%89t%C3%A9%202026.csv"
 */
export const savedAs = (name: string): string =>
  `attachment; filename*=UTF-8''${encoded(name.replaceAll('/', '-'))}`

/** Says that the answer is a file. @param bytes how many it has, where that is known before it is read */
export function answerAsFile(
  event: H3Event,
  { name, type, bytes }: { name: string; type: string; bytes?: number },
): void {
  setResponseHeaders(event, {
    'content-type': type,
    'content-disposition': savedAs(name),
    ...(bytes !== undefined && { 'content-length': bytes }),
  })
}
