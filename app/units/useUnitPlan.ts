import type { UnitPreview, UnitSource } from '#core/contract/units'

/** Changes of the tree on their way: previewed first, applied only as they were previewed. */
export function useUnitPlan(onApplied: () => void) {
  const { busy, problem, run } = useAct()
  const preview = shallowRef<UnitPreview | null>(null)
  let planned: UnitSource | null = null

  async function look(source: UnitSource): Promise<boolean> {
    preview.value = null
    return run(async () => {
      preview.value = await callApi('POST /api/units/preview', { body: source })
      planned = source
    })
  }

  async function apply(): Promise<boolean> {
    const source = planned
    const basis = preview.value?.basis
    if (!source || basis === undefined) return false
    const done = await run(() => callApi('POST /api/units/changes', { body: { ...source, basis } }))
    // Somebody was quicker: what they did must be seen before this is applied to it.
    if (!done && problem.value?.code === 'units-changed') {
      const conflict = problem.value
      await look(source)
      problem.value = conflict
    }
    if (done) {
      forgetUnits()
      forget()
      onApplied()
    }
    return done
  }

  function forget() {
    preview.value = null
    planned = null
    problem.value = null
  }

  const changing = computed(() =>
    Object.entries(preview.value?.counts ?? {}).reduce(
      (sum, [verdict, count]) =>
        verdict === 'unchanged' || verdict === 'refused' ? sum : sum + (count ?? 0),
      0,
    ),
  )

  return { busy, problem, preview, changing, look, apply, forget }
}
