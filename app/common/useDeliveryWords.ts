import { DELIVERY_PROBLEMS } from '#core/contract/sending'

/**
 * Says why something did not reach another system, by the kept problem; null where the problem is of another kind.
 * @example useDeliveryWords()('status:503') // 'The recipient answered 503.'
 */
export function useDeliveryWords(): (problem: string) => string | null {
  const { t } = useI18n()
  return problem => {
    const [code, status = ''] = problem.split(':')
    const known = DELIVERY_PROBLEMS.find(one => one === code)
    return known ? t(`sending.why.${known}`, { status }) : null
  }
}
