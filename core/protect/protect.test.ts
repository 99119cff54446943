import { describe, expect, it } from 'vitest'
import { newCarryKeys, readCarryFile, readKeys, writeCarryFile, writeKeys } from './carry-file'
import { sealBytes } from './seal'
import {
  isEasyPin,
  isPin,
  isThePin,
  isWeaklyWrapped,
  pinCheck,
  stretch,
  stretchPin,
  unwrapKey,
  waitAfterWrongPins,
  wrapByPin,
  wrapBySecret,
} from './pin-key'
import { newDataKey, open, openBytes, seal } from './seal'

const hex = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex')
const raw = (text: string) => Uint8Array.from(Buffer.from(text, 'hex'))

describe('sealing', () => {
  it('opens by its own key only, and not when a bit was changed', async () => {
    const [key, other] = [await newDataKey(), await newDataKey()]
    const sealed = await seal(key, { name: 'Wenna Élan', days: 3 })
    expect(await open(key, sealed)).toEqual({ name: 'Wenna Élan', days: 3 })
    expect(Buffer.from(sealed.data).toString('latin1')).not.toContain('Wenna')
    await expect(open(other, sealed)).rejects.toThrow()
    const changed = sealed.data.slice()
    changed[3]! ^= 1
    await expect(open(key, { ...sealed, data: changed })).rejects.toThrow()
  })

  it('never uses a nonce twice', async () => {
    const key = await newDataKey()
    const nonces = new Set(
      (await Promise.all(Array.from({ length: 500 }, () => seal(key, 1)))).map(({ nonce }) => hex(nonce)),
    )
    expect(nonces.size).toBe(500)
  })

  it('is AES-GCM as the standard has it', async () => {
    // McGrew and Viega, The Galois/Counter Mode of Operation, appendix B, test case 14 (256-bit key of
    // zeros); from memory.
    const key = await crypto.subtle.importKey('raw', new Uint8Array(32), 'AES-GCM', false, ['decrypt'])
    expect(
      hex(
        await openBytes(key, {
          nonce: new Uint8Array(12),
          data: raw('cea7403d4d606b6e074ec5d3baf39d18d0d1c8a799996bf0265b98b5d48ab919'),
        }),
      ),
    ).toBe('00'.repeat(16))
  })
})

describe('a key from a PIN', () => {
  it('stretches as RFC 7914, section 11, says of PBKDF2 with HMAC-SHA-256', async () => {
    const salt = new TextEncoder().encode('salt')
    expect(hex(await stretch('passwd', salt, 1, 512))).toBe(
      '55ac046e56e3089fec1691c22544b605f94185216dde0465e68b9d57c20dacbc49ca9cccf179b645991664b39d77ef317c71b845b1e30bd509112041d3a19783',
    )
    expect(hex(await stretch('Password', new TextEncoder().encode('NaCl'), 80_000, 512))).toBe(
      '4ddcd8f60b98be21830cee5ef22701f9641a4418d04c0414aeff08876b34ab56a1d425a1225833549adb841b51c9b3176a272bdebba1d078478f62b397f33c8d',
    )
  })

  it('nothing lost, 16: stretches a PIN as Argon2id does', async () => {
    // The test of the reference implementation (phc-winner-argon2, test.c): version 1.3, 64 MiB, 2 passes;
    // from memory.
    expect(
      hex(await stretchPin('password', new TextEncoder().encode('somesalt'), { memory: 65_536, passes: 2 })),
    ).toBe('09316115d5cf24ed5a15a31a3ba326e5cf32edc24702987c02b6566f61913cf7')
  })

  it('wraps the data key: the right PIN opens it, another does not', async () => {
    const key = await newDataKey()
    const wrapped = await wrapByPin(key, '284613')
    const sealed = await seal(key, 'kept')
    expect(await open((await unwrapKey(wrapped, '284613'))!, sealed)).toBe('kept')
    expect(await unwrapKey(wrapped, '284614')).toBeNull()
    const bySecret = await wrapBySecret(key, 'a long secret')
    expect(await open((await unwrapKey(bySecret, 'a long secret'))!, sealed)).toBe('kept')
  })

  it('opens what an earlier version wrapped by PBKDF2, and knows that it is weaker', async () => {
    const [key, salt] = [await newDataKey(), new Uint8Array(16)]
    const own = await crypto.subtle.importKey('raw', await stretch('2846', salt, 1000), 'AES-GCM', false, [
      'encrypt',
    ])
    const old = {
      ...(await sealBytes(own, new Uint8Array(await crypto.subtle.exportKey('raw', key)))),
      salt,
      rounds: 1000,
    }
    expect(await open((await unwrapKey(old, '2846'))!, await seal(key, 'kept'))).toBe('kept')
    expect([isWeaklyWrapped(old), isWeaklyWrapped(await wrapByPin(key, '284613'))]).toEqual([true, false])
  })

  it('nothing lost, 16: takes six to eight digits and knows what is too easy', () => {
    expect(['123456', '12345678', '12345', '123456789', '12a456', '', '2846'].map(isPin)).toEqual([
      true,
      true,
      false,
      false,
      false,
      false,
      false,
    ])
    expect(['111111', '123456', '654321', '284613', '112233', '135791'].map(isEasyPin)).toEqual([
      true,
      true,
      true,
      false,
      false,
      false,
    ])
  })

  it('waits longer after each wrong one, an hour at the most', () => {
    expect([0, 2, 3, 4, 5, 9, 40].map(waitAfterWrongPins)).toEqual([
      0, 0, 5_000, 15_000, 45_000, 3_600_000, 3_600_000,
    ])
  })

  it("checks the administrator's PIN by what it stretches to", async () => {
    const check = await pinCheck('903581')
    expect(JSON.stringify(check)).not.toContain('903581')
    expect([await isThePin(check, '903581'), await isThePin(check, '903582')]).toEqual([true, false])
  })
})

describe('a carry file', async () => {
  const [device, district, stranger] = [
    await newCarryKeys(false),
    await newCarryKeys(true),
    await newCarryKeys(false),
  ]
  const keyOf = (id: string) => Promise.resolve(id === 'device-1' ? device.public.sign : null)
  const written = await writeCarryFile(
    { changes: [1, 2, 3] },
    { id: 'device-1', key: device.own.sign },
    district.public.agree,
  )
  const codeOf = async (text: string, own = district.own.agree) => {
    const read = await readCarryFile(text, own, keyOf)
    return read.ok ? 'ok' : read.problems[0]!.code
  }

  it('is read by whom it was written to, and says who wrote it', async () => {
    expect(await readCarryFile(written, district.own.agree, keyOf)).toEqual({
      ok: true,
      value: { from: 'device-1', content: { changes: [1, 2, 3] } },
    })
    expect(written).not.toContain('changes')
  })

  it('is refused when it was changed, cut off, written by a stranger, or to somebody else', async () => {
    const half = written.slice(0, written.length / 2)
    const changed = `${written.slice(0, -9)}${written.at(-9) === 'A' ? 'B' : 'A'}${written.slice(-8)}`
    expect(await codeOf(half)).toBe('carry-changed')
    expect(await codeOf(changed)).toBe('carry-changed')
    expect(await codeOf('hello')).toBe('carry-changed')
    expect(await codeOf(written, stranger.own.agree)).toBe('carry-changed')
    expect(
      await codeOf(
        await writeCarryFile({}, { id: 'device-2', key: stranger.own.sign }, district.public.agree),
      ),
    ).toBe('carry-unknown')
    expect(
      await codeOf(
        await writeCarryFile({}, { id: 'device-1', key: stranger.own.sign }, district.public.agree),
      ),
    ).toBe('carry-signature')
  })

  it("keeps the district's keys as text that works again", async () => {
    const again = await readKeys(JSON.parse(JSON.stringify(await writeKeys(district.own))) as never)
    expect(await codeOf(written, again.agree)).toBe('ok')
    await expect(writeKeys(device.own)).rejects.toThrow()
  })
})
