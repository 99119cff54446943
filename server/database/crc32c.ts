const POLYNOMIAL = 0x82f63b78

const TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let value = byte
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ POLYNOMIAL : value >>> 1
  return value
})

/**
 * The checksum CRC-32C (Castagnoli) of some bytes, as RFC 3720 defines it and PostgreSQL uses it.
 *
 * @example crc32c(Buffer.from('123456789')) // 0xe3069283
 */
export function crc32c(bytes: Uint8Array): number {
  let value = 0xffffffff
  for (const byte of bytes) value = TABLE[(value ^ byte) & 0xff]! ^ (value >>> 8)
  return (value ^ 0xffffffff) >>> 0
}
