import { createHash } from 'node:crypto'
import { existsSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { setResponseHeaders } from 'h3'

/**
 * The hashes of the shell's few inline scripts, read from the built shell itself, so that nothing else may
 * run inline.
 */
function inlineScriptHashes(): string[] {
  const shell = join(dirname(process.argv[1] ?? '.'), '..', 'public', 'index.html')
  if (!existsSync(shell)) return []
  const scripts = readFileSync(shell, 'utf8').matchAll(/<script(?![^>]*\bsrc=)[^>]*>([\s\S]*?)<\/script>/g)
  return [...scripts].map(([, text]) => `'sha256-${createHash('sha256').update(text!).digest('base64')}'`)
}

/** Security headers on every answer, static files included. Styles: see docs/decisions/0004. */
export default defineNitroPlugin(nitro => {
  const headers: Record<string, string> = {
    'x-content-type-options': 'nosniff',
    // The device bench shows our own desk in frames; nobody else may.
    'x-frame-options': 'SAMEORIGIN',
    'referrer-policy': 'same-origin',
    'cross-origin-opener-policy': 'same-origin',
    'cross-origin-resource-policy': 'same-origin',
    'permissions-policy': 'camera=(self), geolocation=(self), microphone=(self)',
  }
  if (!import.meta.dev) {
    headers['content-security-policy'] = [
      "default-src 'self'",
      // WebAssembly: a PIN is stretched by it. It lets nothing run that the page did not bring.
      `script-src 'self' ${inlineScriptHashes().join(' ')} 'wasm-unsafe-eval'`,
      "style-src 'self' 'unsafe-inline'",
      "img-src 'self' data: blob:",
      "media-src 'self' blob:",
      "worker-src 'self'",
      "object-src 'none'",
      "base-uri 'self'",
      "form-action 'self'",
      "frame-src 'self'",
      "frame-ancestors 'self'",
    ].join('; ')
  }
  nitro.hooks.hook('request', event => {
    // By this a device tells our answers from those of a captive portal.
    setResponseHeaders(
      event,
      event.path.startsWith('/api/') ? { ...headers, 'x-lantern-district': '1' } : headers,
    )
  })
})
