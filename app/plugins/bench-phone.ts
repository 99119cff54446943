import { listenToBench } from '~/device/useDeviceHardware'

/** A phone of the bench is told by the page around it what its network, clock and camera are. */
export default defineNuxtPlugin({ name: 'bench-phone', enforce: 'pre', setup: listenToBench })
