/**
 * The text of a file: UTF-8, with or without its byte-order mark, or else Latin-1 as Windows writes it (windows-1252),
 * which spreadsheets of the office still do.
 */
export function textOfBytes(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  }
  catch {
    return new TextDecoder('windows-1252').decode(bytes)
  }
}
