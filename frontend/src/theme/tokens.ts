// The only place with colours and sizes. [light, dark]; every pair on its ground meets WCAG AA.
export const PAIRS = {
  ground: ['#f3eee3', '#11151b'],
  sheet: ['#fbf8f1', '#181d25'],
  well: ['#e9e2d2', '#0c0f14'],
  ink: ['#1c2126', '#e9e6dc'],
  'ink.soft': ['#4d545b', '#a9b0b8'],
  rule: ['#cfc6b3', '#323a45'],
  'rule.strong': ['#8b8473', '#6c7683'],
  choice: ['#5b2aa8', '#bba0ff'],
  'choice.wash': ['#e6dcf5', '#2a2145'],
  choke: ['#c23a0b', '#ff7a4a'],
  'choke.wash': ['#f7ddcf', '#3d2119'],
  stop: ['#9c1c1c', '#ff9089'],
  caution: ['#7d5200', '#e9b44c'],
  note: ['#47525d', '#a7b3c0'],
  'on-ink': ['#fbf8f1', '#11151b'],
} as const

export type ColourName = keyof typeof PAIRS

// The scale that all text is set in, in px.
export const TEXTS = { note: 13, small: 14, body: 15, field: 16, lead: 17, title: 18, head: 20, sub: 22, figure: 26, large: 32, huge: 42 }

// Widths and heights in px, each called by the widest thing that it is made for.
export const STEPS = { bar: 3, dot: 9, glyph: 22, row: 58, digits: 82, figure: 114, amount: 136, pick: 182, field: 220, wide: 252, column: 320, panel: 400, text: 540, prose: 640, page: 1240 }

// Thickness of a line in px.
export const LINES = { hair: 1, line: 2, bar: 3 }
export const CORNER = '3px'

// The load path's classes: colour, hatch and short word, the same on every drawing.
export const CHOKES = {
  cells: { word: 'cells', light: '#5f7030', dark: '#a7bd63', hatch: 'slash' },
  BMS: { word: 'BMS', light: '#2f6f5c', dark: '#6fc0a6', hatch: 'cross' },
  path: { word: 'path', light: '#7a5a30', dark: '#cfa66b', hatch: 'back' },
  line: { word: 'line', light: '#2f5f91', dark: '#7fb2e6', hatch: 'lines' },
  phase: { word: 'phase', light: '#93396a', dark: '#e48dbb', hatch: 'posts' },
  volts: { word: 'volts', light: '#4a5a68', dark: '#9db1c4', hatch: 'dots' },
  heat: { word: 'heat', light: '#a8501c', dark: '#f0975c', hatch: 'grid' },
  grip: { word: 'grip', light: '#3d4a2a', dark: '#c4d1a8', hatch: 'wide' },
  wheelie: { word: 'wheelie', light: '#8a6a12', dark: '#dcb94f', hatch: 'zig' },
  throttle: { word: 'throttle', light: '#6b6b6b', dark: '#b9b9b9', hatch: 'plain' },
} as const

export type ChokeName = keyof typeof CHOKES
