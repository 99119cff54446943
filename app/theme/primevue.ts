import { lanternPreset } from './preset'

/** What the PrimeVue module takes as its theme. */
export default {
  preset: lanternPreset,
  options: { darkModeSelector: 'system' },
}
