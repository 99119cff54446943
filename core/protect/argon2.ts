/** A module of its own, so that the browser loads this one algorithm, and only when a PIN is typed. */
export { argon2id } from 'hash-wasm'
