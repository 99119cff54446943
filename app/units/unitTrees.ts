import { QueryClient } from '@tanstack/query-core'
import type { UnitList } from '#core/contract/units'

/** How long a tree is shown without asking again, in milliseconds: others change units seldom. */
const GOOD_FOR = 60_000

/** The trees of units are large, and most pages of the office need one: they share what was read. */
const shared = new QueryClient({
  defaultOptions: { queries: { staleTime: GOOD_FOR, retry: false, networkMode: 'always' } },
})

const read = (name: 'own' | 'all', queryFn: () => Promise<UnitList>) =>
  shared.fetchQuery({ queryKey: [name, useSession().view?.person.id ?? null], queryFn })

/** The units of the person's branch, as they are today. @throws ApiProblem */
export const ownUnits = (): Promise<UnitList> => read('own', () => callApi('GET /api/units', { query: {} }))

/** All units of the installation: their names and places only. @throws ApiProblem */
export const allPlaces = (): Promise<UnitList> => read('all', () => callApi('GET /api/places', {}))

/** Call it after a change of units: the next page loads them from the server. */
export const forgetUnits = (): void => shared.clear()
