import { createSystem, defaultConfig, defineConfig } from '@chakra-ui/react'
import { field, input, nativeSelect, tabs, textarea, TOUCH } from './recipes'
import { CHOKES, CORNER, LINES, PAIRS, STEPS, TEXTS } from './tokens'

const colors = Object.fromEntries(
  Object.entries(PAIRS).map(([name, [light, dark]]) => [
    name.replace('.', '-'),
    { value: { _light: light, _dark: dark } },
  ]),
)
const chokes = Object.fromEntries(
  Object.entries(CHOKES).map(([name, c]) => [`choke-${name.toLowerCase()}`, { value: { _light: c.light, _dark: c.dark } }]),
)

const TEXT = "'IBM Plex Sans Condensed', 'Arial Narrow', sans-serif"
const DISPLAY = "'Saira Variable', 'IBM Plex Sans Condensed', sans-serif"

const scale = (steps: Record<string, number>) => Object.fromEntries(Object.entries(steps).map(([name, px]) => [name, { value: `${px}px` }]))

export const system = createSystem(
  defaultConfig,
  defineConfig({
    theme: {
      recipes: { input, textarea },
      slotRecipes: { nativeSelect, field, tabs },
      tokens: { fonts: { body: { value: TEXT }, heading: { value: DISPLAY } }, fontSizes: scale(TEXTS), sizes: { ...scale(STEPS), touch: { value: TOUCH } }, borderWidths: scale(LINES), radii: { corner: { value: CORNER } } },
      semanticTokens: {
        colors: {
          ...colors,
          ...chokes,
          bg: { DEFAULT: { value: '{colors.ground}' }, panel: { value: '{colors.sheet}' } },
          fg: { DEFAULT: { value: '{colors.ink}' }, muted: { value: '{colors.ink-soft}' } },
          border: { DEFAULT: { value: '{colors.rule}' } },
        },
      },
      textStyles: {
        digits: {
          value: {
            fontFamily: DISPLAY,
            fontStretch: '70%',
            fontWeight: '600',
            fontVariantNumeric: 'tabular-nums lining-nums',
            letterSpacing: '-0.005em',
            lineHeight: '1',
          },
        },
        title: {
          value: { fontFamily: DISPLAY, fontStretch: '68%', fontWeight: '600', lineHeight: '1.1' },
        },
        label: {
          value: { fontSize: 'note', lineHeight: '1.2', color: '{colors.ink-soft}' },
        },
      },
    },
    globalCss: {
      'html, body, #root': { height: '100%' },
      body: {
        background: 'ground',
        color: 'ink',
        fontSize: 'body',
        lineHeight: '1.35',
        fontVariantNumeric: 'tabular-nums',
      },
      '*:focus-visible': { outline: '3px solid {colors.choice}', outlineOffset: '2px' },
      '*': { _motionReduce: { transition: 'none !important' } },
      '.skip': { position: 'fixed', left: '8px', top: '-60px', zIndex: 20, minHeight: '44px', display: 'inline-flex', alignItems: 'center', padding: '0 16px', background: '{colors.sheet}', border: '2px solid {colors.choice}', _focusVisible: { top: '8px' }, _print: { display: 'none' } },
      'nav, .no-print, .act, [role=tablist], [role=slider]': { _print: { display: 'none !important' } },
      '@page': { margin: '12mm' },
      'html, body, #root, main, aside': { _print: { background: 'white !important', height: 'auto !important', overflow: 'visible !important' } },
      'p, h1, h2, td, th, button': { overflowWrap: 'break-word' },
    },
  }),
)
