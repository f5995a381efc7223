import 'vuetify/styles'
import { createVuetify } from 'vuetify'
import { icons } from './icons'

const shared = { 'border-color': '#8a7a66', 'border-opacity': 0.35 }

export const vuetify = createVuetify({
  icons,
  theme: {
    cspNonce: document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content,
    defaultTheme: 'maple',
    themes: {
      maple: {
        dark: false,
        colors: {
          background: '#F4ECDD',
          surface: '#FBF7EF',
          primary: '#1B6662',
          secondary: '#8D620B',
          error: '#87261A',
          'on-background': '#2B211A',
          'on-surface': '#2B211A',
        },
        variables: shared,
      },
      rook: {
        dark: true,
        colors: {
          background: '#14191F',
          surface: '#1C232B',
          primary: '#6FC3BC',
          secondary: '#EECA65',
          error: '#D57661',
          'on-background': '#E9E2D4',
          'on-surface': '#E9E2D4',
        },
        variables: shared,
      },
    },
  },
  defaults: {
    global: { ripple: false, elevation: 0 },
    VBtn: { variant: 'outlined', density: 'comfortable', height: 34 },
    VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VTextarea: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VAutocomplete: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VCombobox: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VCheckbox: { density: 'compact', hideDetails: 'auto' },
    VRangeSlider: { density: 'compact', hideDetails: true },
    VTooltip: { openDelay: 300, transition: 'none' },
    VDialog: { transition: 'none' },
  },
})
