/**
 * What a page is asked to show, kept in its address: a link to the page shows the same, and so does going back
 * to it.
 *
 * @param keys what the address may hold; anything else in it is dropped at the next change
 * @example const { asked, ask } = useAsked(['find', 'state']); void ask({ find: 'mill' })
 */
export function useAsked<const Key extends string>(keys: readonly Key[]) {
  const route = useRoute()
  const router = useRouter()
  const asked = computed(
    () =>
      Object.fromEntries(
        keys.flatMap(key => {
          const value = route.query[key]
          return typeof value === 'string' && value ? [[key, value]] : []
        }),
      ) as Partial<Record<Key, string>>,
  )
  /** Changes some of it; what is empty leaves the address. */
  const ask = (more: Partial<Record<Key, string | null | undefined>>) => {
    const next: Record<string, string | null | undefined> = { ...asked.value, ...more }
    return router.replace({ query: Object.fromEntries(Object.entries(next).filter(([, value]) => value)) })
  }
  return { asked, ask }
}
