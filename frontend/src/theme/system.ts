import { createSystem, defineConfig } from '@chakra-ui/react'
import { defaultBaseConfig } from '@chakra-ui/react/preset-base'
import * as given from '@chakra-ui/react/theme'
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

const TEXT = "'IBM Plex Sans Condensed', 'Signs', 'Arial Narrow', sans-serif"
const DISPLAY = "'Saira Variable', 'IBM Plex Sans Condensed', 'Signs', sans-serif"

const scale = (steps: Record<string, number>) => Object.fromEntries(Object.entries(steps).map(([name, px]) => [name, { value: `${px}px` }]))

const only = <T extends object, K extends keyof T>(all: T, ...names: K[]) => Object.fromEntries(names.map((name) => [name, all[name]])) as Pick<T, K>

/** Of the library's theme what our components stand on: with its sixty others and twelve palettes, each page load began
 * with a fifth of a second of names that nobody asks for. */
const ground = defineConfig({
  preflight: true,
  cssVarsPrefix: given.cssVarsPrefix,
  cssVarsRoot: given.cssVarsRoot,
  globalCss: given.globalCss,
  theme: {
    breakpoints: given.breakpoints,
    keyframes: given.keyframes,
    tokens: { ...given.tokens, colors: only(given.tokens.colors, 'transparent', 'current', 'black', 'white', 'blackAlpha', 'gray', 'red', 'orange', 'green', 'blue') },
    semanticTokens: { ...given.semanticTokens, colors: only(given.semanticTokens.colors, 'bg', 'fg', 'border', 'gray') },
    recipes: { input: given.inputRecipe, textarea: given.textareaRecipe },
    slotRecipes: {
      table: given.tableSlotRecipe,
      nativeSelect: given.nativeSelectSlotRecipe,
      field: given.fieldSlotRecipe,
      checkbox: given.checkboxSlotRecipe,
      dialog: given.dialogSlotRecipe,
      tabs: given.tabsSlotRecipe,
      slider: given.sliderSlotRecipe,
    },
    textStyles: given.textStyles,
    layerStyles: given.layerStyles,
    animationStyles: given.animationStyles,
  },
})

export const system = createSystem(
  defaultBaseConfig,
  ground,
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
