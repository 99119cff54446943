/** Byte-order marks of UTF-16, which identify it. */
const UTF_16: [mark: [number, number], encoding: string][] = [
  [[0xff, 0xfe], 'utf-16le'],
  [[0xfe, 0xff], 'utf-16be'],
]

/**
 * The text of a file: UTF-8, with or without its byte-order mark, UTF-16 with one (what spreadsheets call
 * “Unicode text”), or else Latin-1 as Windows writes it (windows-1252), which spreadsheets of the office
 * still do.
 */
export function textOfBytes(bytes: Uint8Array): string {
  const wide = UTF_16.find(([[first, second]]) => bytes[0] === first && bytes[1] === second)
  if (wide) return new TextDecoder(wide[1]).decode(bytes)
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    return new TextDecoder('windows-1252').decode(bytes)
  }
}
