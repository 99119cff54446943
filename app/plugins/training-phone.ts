import { listenToBench } from '~/device/useDeviceHardware'

/** A training phone gets its simulated network, clock and camera from the page around it. */
export default defineNuxtPlugin({ name: 'bench-phone', enforce: 'pre', setup: listenToBench })
