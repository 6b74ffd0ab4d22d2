import { Box, Field, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import type { FieldOut } from '../api/client'
import { useDraft } from './useDraft'
import { GONE, type ValueDoc } from '../lib/path'
import { digits, parseQuantity, show, shownUnit, toUnit, type UnitPrefs, usualUnit } from '../lib/units'

const ORIGINS = ['label', 'datasheet', 'measured', 'guess', 'absent'] as const
const ORIGIN_WORDS: Record<string, string> = { absent: GONE }
const NOT_THERE: ValueDoc = { amount: null, origin: 'absent', tolerance: null }
const saysAbsent = (text: string) => /^(none|absent|not there)$/i.test(text.trim())
const USUAL: Record<string, number> = { label: 10, datasheet: 5, measured: 2, guess: 30 }

/** Gives the new value of the value as it is when it is sent: what is typed into one of its fields keeps the others. */
export type SetValue = (next: (now: ValueDoc | null) => ValueDoc | null) => void

/** A number with a unit, its origin and tolerance. It says what it understood; empty = unknown. */
export function ValueField(props: {
  field: FieldOut
  value: ValueDoc | null
  prefs: UnitPrefs
  set: SetValue
}) {
  const { field, value, prefs } = props
  const size = value?.amount ?? field.assume
  const unit = size === null ? usualUnit(field.quantity, field.hi, prefs) : shownUnit(field.quantity, size, prefs)
  const gone = value?.origin === 'absent'
  const textOf = (si: number) => digits(toUnit(si, unit), 6)
  const text = gone ? GONE : value?.amount == null ? '' : textOf(value.amount)
  const [draft, setDraft, keptBy] = useDraft(text)
  const typed = draft ?? text
  const parsed = draft !== null && draft.trim() && !saysAbsent(draft) ? parseQuantity(draft, field.quantity, unit) : null
  const error = parsed ? (parsed.ok ? rangeError(field, parsed.si, prefs) : parsed.error) : ''
  const becomes = draft === null || !draft.trim() ? '' : saysAbsent(draft) ? GONE : parsed?.ok && !error ? textOf(parsed.si) : null
  const commit = (still: string | null): string | null => {
    if (draft === null || draft === still || (becomes !== null && becomes === still)) return text
    const si = parsed?.ok ? parsed.si : 0
    if (becomes === '') props.set(() => null)
    else if (becomes === GONE) props.set(() => NOT_THERE)
    else if (becomes !== null && field.wish) props.set(() => ({ amount: si, origin: 'guess', tolerance: 0 }))
    else if (becomes !== null) props.set((now) => (now && now.amount !== null && now.origin !== 'absent' ? { ...now, amount: si } : { amount: si, origin: field.typed, tolerance: null }))
    return becomes
  }
  const hint = parsed?.ok
    ? `understood: ${show(parsed.si, field.quantity, prefs, 4).text}; not kept yet`
    : !text && field.assume !== null
      ? `unknown; ${show(field.assume, field.quantity, prefs).text} assumed`
      : field.help
  return (
    <Field.Root invalid={!!error}>
      <Field.Label>{field.label}</Field.Label>
      <Flex gap="2" align="center" w="100%">
        <Box position="relative" flex="1 1 {sizes.figure}">
          <Input
            value={typed}
            placeholder="unknown"
            inputMode="text"
            borderColor={error ? 'stop' : draft !== null ? 'choice' : 'rule-strong'}
            pr="14"
            onChange={(e) => setDraft(e.target.value)}
            {...keptBy(commit)}
          />
          <Text position="absolute" zIndex="1" right="3" top="2.5" color="ink-soft" pointerEvents="none" fontSize="small">
            {unit.symbol}
          </Text>
        </Box>
        {!field.wish && <NativeSelect.Root w="figure" disabled={draft !== null}>
          <NativeSelect.Field
            fontSize="body"
            aria-label={`Origin of ${field.label}`}
            value={value?.origin ?? 'guess'}
            onChange={(e) => {
              const origin = e.target.value as ValueDoc['origin']
              props.set((now) => (origin === 'absent' ? NOT_THERE : now && { ...now, origin, tolerance: null }))
            }}
          >
            {ORIGINS.map((o) => (
              <option key={o} value={o} disabled={o !== 'absent' && value?.amount == null && o !== (value?.origin ?? 'guess')}>
                {ORIGIN_WORDS[o] ?? o}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>}
        {!field.wish && <Tolerance value={value} label={field.label} set={props.set} />}
      </Flex>
      {error ? (
        <Field.ErrorText role="alert">{error}</Field.ErrorText>
      ) : (
        <Field.HelperText minH="glyph" color={draft !== null ? 'choice' : 'ink-soft'}>
          {hint}
        </Field.HelperText>
      )}
    </Field.Root>
  )
}

function rangeError(field: FieldOut, si: number, prefs: UnitPrefs): string {
  const say = (x: number) => show(x, field.quantity, prefs, 4).text
  if (field.above !== null && si <= field.above) return `must be above ${say(field.above)}`
  if (field.lo !== null && si < field.lo) return `must be at least ${say(field.lo)}`
  if (field.hi !== null && si > field.hi) return `must be at most ${say(field.hi)}; check the unit`
  return ''
}

function Tolerance(props: { value: ValueDoc | null; label: string; set: SetValue }) {
  const { value } = props
  const percent = (share: number) => String(Math.round(share * 1000) / 10)
  const now = value?.amount == null ? '' : percent(value.tolerance ?? (USUAL[value.origin] ?? 30) / 100)
  const [draft, setDraft, keptBy] = useDraft(now)
  const commit = (still: string | null): string | null => {
    const x = Number((draft ?? '').replace(',', '.').replace('%', ''))
    if (draft === null || draft === still || !value || !(x >= 0 && x <= 500)) return now
    props.set((now) => now && { ...now, tolerance: x / 100 })
    return percent(x / 100)
  }
  return (
    <Box position="relative" w="digits">
      <Text position="absolute" zIndex="1" left="2" top="2.5" color="ink-soft" fontSize="small" pointerEvents="none">
        ±
      </Text>
      <Input
        pl="6"
        pr="6"
        fontSize="body"
        disabled={value?.amount == null}
        aria-label={`Tolerance of ${props.label} in percent`}
        value={draft ?? now}
        onChange={(e) => setDraft(e.target.value)}
        {...keptBy(commit)}
      />
      <Text position="absolute" zIndex="1" right="2" top="2.5" color="ink-soft" fontSize="small" pointerEvents="none">
        %
      </Text>
    </Box>
  )
}
