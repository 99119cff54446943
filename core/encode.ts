/** Bytes as text. */

/** In hexadecimal, two digits a byte. */
export const hexOf = (bytes: Uint8Array): string =>
  Array.from(bytes, byte => byte.toString(16).padStart(2, '0')).join('')

/** In base64 (RFC 4648, section 4). */
export const base64Of = (bytes: Uint8Array): string =>
  btoa(Array.from(bytes, byte => String.fromCharCode(byte)).join(''))
