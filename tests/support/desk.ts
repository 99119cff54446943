import type { CaseRegister } from '#core/cases/register'
import { PHONE, Visitor } from './browser'
import { Client } from './client'

const SETTINGS = {
  language: 'en',
  textSize: 'usual',
  wifiOnly: false,
  lockMinutes: 60,
  keepDays: 90,
  may: { openReports: true, changeSent: true, deleteDrafts: true, changeSettings: true },
}

/** A phone of a facility, paired by a card, with its clerk signed in. */
export async function deskOf(
  address: string,
  unit: string,
  language: 'en' | 'fr' = 'en',
  phone?: Visitor,
): Promise<Visitor> {
  const officer = await Client.signedIn(address, 'officer.ashmere')
  const { status, body } = await officer.post<{ code: string }>('/api/pairing-cards', {
    name: 'Phone',
    unit,
    uses: 1,
    days: 1,
    settings: { ...SETTINGS, language },
  })
  if (status !== 200) throw new Error(`The card was not made: ${status}`)
  const clerk = phone ?? (await Visitor.arrive(address, PHONE))
  await clerk.open(`/desk/pair#${body.code}`)
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
