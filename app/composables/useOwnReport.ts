import { readReport } from './useReportEntry'

/** The report of a clerk's own facility in the round that the address names. */
export function useOwnReport() {
  const route = useRoute()
  const session = useSession()
  const round = computed(() => String(route.params.round))
  return useLoad(() => readReport(round.value, session.view!.branch!.unit.code), () => round.value)
}
