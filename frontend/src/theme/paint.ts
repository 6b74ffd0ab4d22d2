import { type ChokeName, CHOKES, type ColourName } from './tokens'

/** CSS colour of a token, for SVG. */
export const paint = (name: ColourName): string => `var(--chakra-colors-${name.replace('.', '-')})`
export const isChoke = (name: string): name is ChokeName => name in CHOKES
export const chokePaint = (name: string): string =>
  isChoke(name) ? `var(--chakra-colors-choke-${name.toLowerCase()})` : paint('ink.soft')
export const chokeWord = (name: string): string => (isChoke(name) ? CHOKES[name].word : name || '–')
export const hatchFill = (name: string): string => (isChoke(name) ? `url(#hatch-${name})` : 'none')
export const DIGITS = "'Saira Variable', 'IBM Plex Sans Condensed', sans-serif"
