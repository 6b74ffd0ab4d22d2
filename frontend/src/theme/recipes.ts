// How the parts that are everywhere look; single places say only what is theirs.
import { defineRecipe, defineSlotRecipe } from '@chakra-ui/react'

// Never under 44 px: gloves, and a phone held in one hand.
export const TOUCH = '44px' // the least thing to press is a finger wide
const FIELD = { bg: 'sheet', borderWidth: 'hair', borderColor: 'rule-strong', borderRadius: 'corner', minH: TOUCH, fontSize: 'field' }

/** A quiet button in ink; tone 'choice' is for what the person chose to do. */
export const act = defineRecipe({
  base: {
    display: 'inline-flex',
    alignItems: 'center',
    justifyContent: 'center',
    gap: '2',
    flexShrink: '0',
    whiteSpace: 'nowrap',
    userSelect: 'none',
    cursor: 'pointer',
    minH: TOUCH,
    minW: TOUCH,
    px: '3',
    fontSize: 'body',
    fontWeight: '500',
    lineHeight: '1.25',
    borderWidth: 'hair',
    borderRadius: 'corner',
    _disabled: { opacity: '0.5', cursor: 'not-allowed' },
  },
  variants: {
    tone: {
      plain: { bg: 'sheet', color: 'ink', borderColor: 'rule-strong', _hover: { bg: 'well' } },
      choice: { bg: 'choice', color: 'on-ink', borderColor: 'choice', _hover: { bg: 'ink' } },
      stop: { bg: 'stop', color: 'on-ink', borderColor: 'stop', fontWeight: '700', px: '5', _hover: { bg: 'ink' } },
      ghost: { bg: 'transparent', color: 'ink', borderColor: 'transparent', _hover: { bg: 'well' } },
    },
  },
  defaultVariants: { tone: 'plain' },
})

export const input = defineRecipe({ base: { ...FIELD, px: '3' } })
export const textarea = defineRecipe({ base: { ...FIELD, px: '3', py: '2' } })
export const nativeSelect = defineSlotRecipe({ slots: ['root', 'field', 'indicator'], base: { field: { ...FIELD, h: TOUCH } } })
export const field = defineSlotRecipe({
  slots: ['root', 'label', 'requiredIndicator', 'requiredText', 'helperText', 'errorText'],
  base: {
    root: { py: '1.5', gap: '0', alignItems: 'stretch' },
    label: { fontWeight: '500', fontSize: 'body' },
    helperText: { fontSize: 'note', color: 'ink-soft' },
    errorText: { fontSize: 'note', color: 'stop' },
  },
})
export const tabs = defineSlotRecipe({
  slots: ['root', 'list', 'trigger', 'content', 'contentGroup', 'indicator'],
  base: {
    list: { gap: '0', overflowX: 'auto', borderBottomWidth: 'hair', borderColor: 'rule' },
    trigger: {
      minH: TOUCH,
      h: 'auto',
      flexShrink: '0',
      fontSize: 'body',
      color: 'ink',
      fontWeight: '400',
      borderRadius: '0',
      borderBottomWidth: 'bar',
      borderBottomColor: 'transparent',
      _hover: { bg: 'well' },
      _before: { display: 'none' },
      _selected: { fontWeight: '600', borderBottomColor: 'choice', color: 'ink' },
    },
    content: { py: '2', px: '0' },
  },
  variants: { size: { md: { trigger: { px: '2.5', minW: TOUCH } } } }, // eleven of them stand side by side
})
