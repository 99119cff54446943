import { definePreset } from '@primeuix/themes'
import Aura from '@primeuix/themes/aura'

/** The colours of the look, once. `base.css` has the same as CSS variables for our own parts. */
const plum = {
  50: '#f8f4fa',
  100: '#efe6f3',
  200: '#dcc9e4',
  300: '#c0a2cd',
  400: '#97749f',
  500: '#6d4a80',
  600: '#5b3a6d',
  700: '#4b2c5c',
  800: '#362243',
  900: '#251b31',
  950: '#191122',
}
const paper = {
  0: '#fffdf9',
  50: '#fbf8f2',
  100: '#f3ede1',
  200: '#e2d9c8',
  300: '#cfc4b0',
  400: '#a59cab',
  500: '#655e7a',
  600: '#4f4865',
  700: '#3b3450',
  800: '#2b2539',
  900: '#1f1a2b',
  950: '#16121f',
}

export const lanternPreset = definePreset(Aura, {
  semantic: {
    primary: plum,
    borderRadius: { sm: '6px', md: '8px', lg: '10px', xl: '12px' },
    focusRing: { width: '2px', style: 'solid', color: '{primary.500}', offset: '1px' },
    colorScheme: {
      light: {
        surface: paper,
        primary: {
          color: '{primary.700}',
          contrastColor: '#ffffff',
          hoverColor: '{primary.800}',
          activeColor: '{primary.900}',
        },
        text: { color: '#1f1a2b', hoverColor: '#1f1a2b', mutedColor: '#655e7a', hoverMutedColor: '#3b3450' },
        content: { background: '#fffdf9', borderColor: '#e2d9c8' },
      },
      dark: {
        surface: { ...paper, 0: '#fffdf9', 700: '#463d58', 800: '#2f2740', 900: '#241d31', 950: '#1a1524' },
        primary: {
          color: '#c9addb',
          contrastColor: '#1a1524',
          hoverColor: '#dcc9e4',
          activeColor: '#efe6f3',
        },
        text: { color: '#f3ede1', hoverColor: '#ffffff', mutedColor: '#b9b0c6', hoverMutedColor: '#e2d9c8' },
        content: { background: '#241d31', borderColor: '#463d58' },
      },
    },
  },
})
