import type { PeopleList, PersonLine } from '#core/contract/people'
import type { Client } from '../tests/support/client'

/** Everybody who may work here, page by page. */
export async function allPeople(admin: Client): Promise<PersonLine[]> {
  const people: PersonLine[] = []
  for (let more = true; more;) {
    const after = people.length ? `?after=${people.at(-1)!.id}` : ''
    const { body } = await admin.get<PeopleList>(`/api/people${after}`)
    people.push(...body.lines)
    more = body.more
  }
  return people
}
