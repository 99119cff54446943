/**
 * What a file is by its first bytes, as the formats' own specifications have them: what it says of itself is
 * not believed.
 */
const SIGNATURES: readonly { mediaType: string; at: number; bytes: readonly number[] }[] = [
  { mediaType: 'image/jpeg', at: 0, bytes: [0xff, 0xd8, 0xff] },
  { mediaType: 'image/png', at: 0, bytes: [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a] },
  { mediaType: 'image/webp', at: 8, bytes: [0x57, 0x45, 0x42, 0x50] },
  { mediaType: 'audio/webm', at: 0, bytes: [0x1a, 0x45, 0xdf, 0xa3] },
  { mediaType: 'audio/ogg', at: 0, bytes: [0x4f, 0x67, 0x67, 0x53] },
  { mediaType: 'audio/wav', at: 8, bytes: [0x57, 0x41, 0x56, 0x45] },
  { mediaType: 'audio/mp4', at: 4, bytes: [0x66, 0x74, 0x79, 0x70] },
  { mediaType: 'audio/mpeg', at: 0, bytes: [0x49, 0x44, 0x33] },
]

/** @returns null for what is neither a picture nor a sound. */
export const mediaTypeOf = (file: Uint8Array): string | null =>
  SIGNATURES.find(({ at, bytes }) => bytes.every((byte, place) => file[at + place] === byte))?.mediaType ??
  null
