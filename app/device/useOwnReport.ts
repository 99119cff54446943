import { readReport } from '../reports/useReportEntry'

/** The report that the address names: of the unit in it, else of the person's own facility. */
export function useOwnReport() {
  const route = useRoute()
  const session = useSession()
  const round = computed(() => String(route.params.round))
  const unit = computed(() => String(route.query.unit ?? session.view!.branch!.unit.code))
  return useLoad(
    () => readReport(round.value, unit.value),
    () => [round.value, unit.value],
  )
}
