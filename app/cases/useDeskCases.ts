import { deskRegisters, deskUnits } from '../device/useDesk'
import { useUnits } from '../units/useUnits'
import { useCases } from './useCases'

/**
 * The registers, places and cases of this device, together: what the pages of cases show.
 * @param isWaitedFor false only prepares the cases, while nothing else happens
 */
export function useDeskCases(isWaitedFor = true) {
  const desk = useDesk()
  const registersLoad = useLoad(deskRegisters, () => desk.changes.value)
  const registers = computed(
    () => new Map((registersLoad.data.value ?? []).map(one => [one.register, one.definition])),
  )
  const tree = useLoad(deskUnits)
  const units = useUnits(() => tree.data.value)
  const cases = useCases(
    () => registers.value,
    () => [desk.changes.value, registersLoad.data.value],
    units,
    () => registersLoad.data.value !== null && tree.data.value !== null,
    isWaitedFor,
  )
  return { registersLoad, registers, tree, units, cases }
}
