import type { RoundRef } from '#core/contract/common'

/**
 * The opened rounds, newest first, and the neighbours of one in its dataset, reached by one key each: `[`
 * back, `]` on.
 * @param current the round, as `monthly_summary~2026-10`
 */
export function useRoundNeighbours(current: () => string, go: (round: string) => void) {
  const rounds = useLoad<RoundRef[]>(() => callApi('GET /api/rounds', {}))
  const all = computed(() => rounds.data.value ?? [])
  const same = computed(() => all.value.filter(({ dataset }) => dataset === current().split('~')[0]))
  const at = computed(() => same.value.findIndex(({ id }) => id === current()))
  const before = computed(() => (at.value < 0 ? null : (same.value[at.value + 1]?.id ?? null)))
  const after = computed(() => same.value[at.value - 1]?.id ?? null)
  const step = (to: string | null) => {
    if (to) go(to)
  }
  useKeys([
    { key: '[', says: 'keys.roundBack', run: () => step(before.value) },
    { key: ']', says: 'keys.roundOn', run: () => step(after.value) },
  ])
  return { all, before, after }
}
