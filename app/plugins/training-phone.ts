import { listenToTrainingPage } from '~/device/useDeviceHardware'

/** A training phone gets its simulated network, clock and camera from the page around it. */
export default defineNuxtPlugin({ name: 'training-phone', enforce: 'pre', setup: listenToTrainingPage })
