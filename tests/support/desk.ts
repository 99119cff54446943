import type { CaseRegister } from '#core/cases/register'
import { PHONE, Visitor } from './browser'
import { cardFor, Client } from './client'
import { OPEN_SETTINGS } from './samples'

/** A phone of a facility, paired by a card, with its clerk signed in. */
export async function deskOf(
  address: string,
  unit: string,
  language: 'en' | 'fr' = 'en',
  phone?: Visitor,
): Promise<Visitor> {
  const settings = { ...OPEN_SETTINGS, language }
  const code = await cardFor(address, unit, 1, { name: 'Phone', settings })
  const clerk = phone ?? (await Visitor.arrive(address, PHONE))
  await clerk.open(`/desk/pair#${code}`)
  await clerk.see('#pair-code')
  await (await clerk.see('button[type=submit]')).click()
  await (await clerk.see('a[href="/desk"]')).click()
  await clerk.signInAtDesk(`clerk.${unit}`)
  return clerk
}

/** Publishes the next edition of a register. */
export async function publishRegister(address: string, register: CaseRegister): Promise<void> {
  const officer = await Client.signedIn(address, 'officer.ashmere')
  const kept = await officer.send('PUT', `/api/registers/${register.code}`, { version: 0, draft: register })
  const published = await officer.post(`/api/registers/${register.code}/publish`, { version: 1 })
  if (kept.status !== 200 || published.status !== 200)
    throw new Error(`The register was refused: ${kept.text.slice(0, 300)} ${published.text.slice(0, 300)}`)
}
