import { Box, Flex, Input, Table, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { type Comparison, type SourceIn, useComparison, useSettingsHistory } from '../../api/link'
import { at } from '../../lib/path'
import { digits, parseQuantity, sentence, show, shownUnit, toUnit, type UnitPrefs } from '../../lib/units'
import { Act, Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { useDraft } from '../../ui/useDraft'
import { minute } from '../../lib/when'

type T = NonNullable<Drawings['tune']>
type Row = T['rows'][number]

/** Every parameter with its reason, a group at a time; the first shows all that is set by hand too. */
export function Values({ d }: { d: T }) {
  const [group, setGroup] = useState('battery')
  const rows = d.rows.filter((r) => group === 'all' || r.group === group)
  const held = useController()
  return (
    <Box>
      <Flex gap="1" wrap="wrap" py="2" role="group" aria-label="Group of parameters">
        {['all', ...new Set(d.rows.map((r) => r.group))].map((g) => {
          const own = d.rows.filter((r) => g === 'all' || r.group === g)
          const byHand = own.filter((r) => r.chosen !== null).length
          return (
            <Act key={g} aria-pressed={g === group} bg={g === group ? 'choice-wash' : 'sheet'} onClick={() => setGroup(g)} disabled={own.length === 0}>
              {g}
              {byHand > 0 ? ` (${byHand} by hand)` : ''}
            </Act>
          )
        })}
      </Flex>
    <Box pb="3" overflowX="auto" tabIndex={0} role="region" aria-label="Parameters">
      <Table.Root size="sm">
        <Table.Header>
          <Table.Row bg="transparent">
            {['object', 'parameter', 'recommended', 'within', 'because', 'in the build', ...(held ? ['in the controller'] : []), 'set by hand'].map((t) => (
              <Table.ColumnHeader key={t} color="ink-soft" display={t === 'object' || t === 'because' ? ON_WIDE : undefined}>
                {t}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((r) => (
            <ParamRow key={r.name} row={r} held={held} />
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
    </Box>
  )
}

/** A phone shows a reason under its parameter, and no object's number. */
const ON_WIDE = { base: 'none', sm: 'table-cell' }

/** A value in words where its numbers are names. */
export function inWords(words: string[], lo: number, value: number): string | null {
  return words.length ? (words[Math.round(value - lo)] ?? null) : null
}

interface Holds {
  at: string
  others: Map<string, { value: unknown; effect: string }>
  /** What is wrong with what it holds, by parameter. */
  says: Map<string, Comparison['firsts']['remarks'][number]>
}

/** What the controller held when it was read last, where that is not what this set says. */
function useController(): Holds | null {
  const { bench } = useWorkshop()
  const read = useSettingsHistory(bench.id).data?.find((i) => i.kind === 'read')
  const source: SourceIn = { kind: 'reading', name: read?.id ?? '', text: '' }
  const found = useComparison(bench.id, bench.version, read ? source : null, { kind: 'set', name: '', text: '' }).data
  if (!read || !found) return null
  return { at: minute(read.at), others: new Map(found.rows.map((r) => [r.name, { value: r.first, effect: r.effect.sentence }])), says: new Map(found.firsts.remarks.filter((r) => r.name).map((r) => [r.name, r])) }
}

function ParamRow({ row, held }: { row: Row; held: Holds | null }) {
  const { prefs, change, bench, send } = useWorkshop()
  const tryIt = (r: Row) => {
    const go = () => change([{ path: r.path, value: { amount: r.recommended, origin: 'guess', tolerance: 0 } }], `Recommended ${r.label}`)
    if (bench.trial) go()
    else send({ do: 'try' }, go)
  }
  const unit = shownUnit(row.quantity, row.recommended, prefs)
  const textOf = (si: number) => digits(toUnit(si, unit), 5)
  const now = row.chosen === null ? '' : textOf(row.chosen)
  const [draft, setDraft, keptBy] = useDraft(now)
  const parsed = draft?.trim() ? parseQuantity(draft, row.quantity, unit) : null
  const out = parsed?.ok ? parsed.si < row.lo || parsed.si > row.hi : false
  const error = parsed && !parsed.ok ? parsed.error : out ? `${show(row.lo, row.quantity, prefs).text} to ${show(row.hi, row.quantity, prefs).text}` : ''
  const commit = (still: string | null): string | null => {
    if (error) return null
    if (draft === null || draft === still) return now
    change((doc) => {
      const others = ((at(doc, 'tune.chosen') as { name: string; value: number }[]) ?? []).filter((c) => c.name !== row.name)
      return [{ path: 'tune.chosen', value: parsed?.ok ? [...others, { name: row.name, value: parsed.si }] : others }]
    }, row.label)
    return parsed?.ok ? textOf(parsed.si) : ''
  }
  return (
    <Table.Row bg="transparent">
      <Table.Cell fontFamily="mono" fontSize="note" display={ON_WIDE}>
        0x{row.index.toString(16).toUpperCase()}
        {row.sub ? `:${row.sub}` : ''}
      </Table.Cell>
      <Table.Cell fontWeight="600" minW={{ base: 'amount', sm: '0' }}>
        {row.label}
        <Text fontSize="note" fontWeight="400" display={{ base: 'block', sm: 'none' }}>
          {row.constraint}
        </Text>
        {row.power && (
          <Text fontSize="note" color="ink-soft" fontWeight="400">
            acts after off and on
          </Text>
        )}
      </Table.Cell>
      <Table.Cell>
        <Text textStyle="digits" fontSize="title" textDecoration={row.chosen !== null ? 'line-through' : undefined}>
          {inWords(row.words, row.lo, row.recommended) ?? show(row.recommended, row.quantity, prefs, 4).text}
        </Text>
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap" color="ink-soft">
        {row.least == null && row.most == null ? '–' : `${row.least == null ? '' : show(row.least, row.quantity, prefs, 3, row.most ?? undefined)[row.most == null ? 'text' : 'number']} … ${row.most == null ? '' : show(row.most, row.quantity, prefs).text}`}
      </Table.Cell>
      <Table.Cell minW="field" display={ON_WIDE}>
        {row.constraint}
      </Table.Cell>
      <Table.Cell>
        {row.build == null ? (
          <Text color="ink-soft">{row.path ? 'as recommended' : '–'}</Text>
        ) : (
          <Flex gap="2" align="center">
            <Text color={Math.abs(row.build - row.recommended) > 0.005 * Math.abs(row.recommended) + 1e-9 ? 'choice' : 'ink'} whiteSpace="nowrap">
              {show(row.build, row.quantity, prefs, 4).text}
            </Text>
            {Math.abs(row.build - row.recommended) > 0.005 * Math.abs(row.recommended) + 1e-9 && row.name !== 'phase_a' && (
              <Act px="2" aria-label={`try the recommended ${row.label}`} onClick={() => tryIt(row)}>
                try
              </Act>
            )}
          </Flex>
        )}
      </Table.Cell>
      {held && <Table.Cell title={`read ${held.at}`}>{inController(held, row, prefs)}</Table.Cell>}
      <Table.Cell>
        <Input
          h="touch"
          w="figure"
          bg="sheet"
          borderColor={error ? 'stop' : 'rule-strong'}
          placeholder="as left"
          aria-label={`${row.label}, set by hand`}
          aria-invalid={!!error}
          value={draft ?? now}
          onChange={(e) => setDraft(e.target.value)}
          {...keptBy(commit)}
        />
        {error && (
          <Text fontSize="note" color="stop" role="alert">
            {error}
          </Text>
        )}
      </Table.Cell>
    </Table.Row>
  )
}

function inController(held: Holds, row: Row, prefs: UnitPrefs) {
  const other = held.others.get(row.name)
  const said = held.says.get(row.name)
  if (!other) return <Text color="ink-soft">the same</Text>
  if (typeof other.value !== 'number') return <Text color="choice">not there</Text>
  return (
    <>
      <Text color="choice" whiteSpace="nowrap">
        {inWords(row.words, row.lo, other.value) ?? show(other.value, row.quantity, prefs, 4).text}
      </Text>
      {other.effect && !said && (
        <Text fontSize="note" color="ink-soft">
          {other.effect}
        </Text>
      )}
      {said && (
        <Flex gap="1" align="start" fontSize="note" minW="figure">
          <Severity kind={said.severity as 'stop' | 'caution'} size={16} />
          {sentence(said.reason, prefs)}
        </Flex>
      )}
    </>
  )
}
