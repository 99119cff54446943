import { v7 as uuid } from 'uuid'
import { MOST_CONTACTS, type ContactNew, type FacilityContact } from '#core/contract/nudges'
import { parsePhone } from '#core/nudge/phone'
import { unitAsked, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { conflict, notFound, refusedBy } from '../refusal'

/** Whom to call at a facility, in the order in which they were added. */
export const contactsOf = (sql: Pick<Sql, 'query'>, unit: string): Promise<FacilityContact[]> =>
  sql.query<FacilityContact>(
    `SELECT id, name, phone, language, nudges FROM facility_contact
     WHERE unit = $1 AND removed_at IS NULL ORDER BY added_at, id LIMIT ${MOST_CONTACTS}`,
    [unit],
  )

/**
 * Adds somebody who can be called at a facility. The same number at the same facility takes the place of the one
 * before, which stays in the history.
 *
 * @throws Refusal 403, 404, 422 `phone` or `phone-country`, 409 `contacts-full`
 */
export async function addContact(
  access: Access,
  code: string,
  { name, phone, language, nudges }: ContactNew,
): Promise<FacilityContact> {
  const unit = await unitAsked(access, code)
  const number = parsePhone(phone)
  if (!number.ok) throw refusedBy(422, number.problems, 'body/phone')
  const sql = await database()
  return sql.transaction(async tx => {
    await lockFacilities(tx, [unit.code])
    const others = (await contactsOf(tx, unit.code)).filter(one => one.phone !== number.value)
    if (others.length >= MOST_CONTACTS)
      throw conflict('contacts-full', `A facility has at most ${MOST_CONTACTS} people to call.`)
    await tx.query(
      `UPDATE facility_contact SET removed_at = $3, removed_by = $4
       WHERE unit = $1 AND phone = $2 AND removed_at IS NULL`,
      [unit.code, number.value, nowText(), access.id],
    )
    const contact = { id: uuid(), name: name.trim(), phone: number.value, language, nudges }
    await tx.query(
      `INSERT INTO facility_contact (id, unit, name, phone, language, nudges, added_at, added_by)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
      [contact.id, unit.code, contact.name, contact.phone, language, nudges, nowText(), access.id],
    )
    return contact
  })
}

/** Removes a contact. A second time changes nothing. @throws Refusal 403, 404 */
export async function removeContact(access: Access, code: string, id: string): Promise<void> {
  const unit = await unitAsked(access, code)
  const sql = await database()
  const [found] = await sql.query(
    `UPDATE facility_contact SET removed_at = coalesce(removed_at, $3), removed_by = coalesce(removed_by, $4)
     WHERE id = $1 AND unit = $2 RETURNING id`,
    [id, unit.code, nowText(), access.id],
  )
  if (!found) throw notFound('contact')
}
