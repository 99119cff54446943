/**
 * Which part of a definition is shown and what is chosen in it: both stand in the address, so that a link
 * leads back here.
 */
export function useParts<Part extends string>(first: Part) {
  const route = useRoute()
  const router = useRouter()
  const part = computed({
    get: () => String(route.query.part ?? first),
    set: next => {
      void router.replace({ query: { part: next } })
    },
  })
  const chosen = computed(() => (route.query.chosen ? String(route.query.chosen) : null))
  const choose = (code: string | null, of: string = part.value) =>
    router.replace({ query: { ...route.query, part: of, chosen: code ?? undefined } })
  return { part, chosen, choose }
}
