import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useBook } from '../../api/prove'
import { at, type Doc } from '../../lib/path'
import { show, usualUnit } from '../../lib/units'
import { Act, Severity } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { NumberField, useNumber } from '../../ui/NumberField'
import { day, minute, today } from '../../lib/when'

const CHARGES = 30 // shown; the mean is over all

/** Everything that was ridden, done and that happened; searched, with what is due and what is best. */
export function RunBook() {
  const { bench, prefs } = useWorkshop()
  const [text, setText] = useState('')
  const [kind, setKind] = useState('')
  const b = useBook(bench.id, text, kind, bench.version).data
  if (!b) return <Text py="3">Looking through the book …</Text>
  return (
    <Flex direction="column" gap="4" py="3">
      {b.open_failures.map((t) => (
        <Flex key={t} gap="2" align="center">
          <Severity kind="caution" size={20} />
          <Text fontWeight="600">{t}</Text>
        </Flex>
      ))}
      {b.bests.length > 0 && (
        <Rows
          label="Best runs"
          heads={['protocol', 'setup', 'set written', 'best', 'runs', 'on', 'changed before it']}
          left={[0, 1, 2, 5, 6]}
          rows={b.bests.map((x) => [x.protocol, x.setup, minute(x.set_at) || '–', show(x.value, x.quantity, prefs, 4).text, String(x.runs), day(x.at), x.changed.join('; ') || '–'])}
        />
      )}
      <Rows
        label="Since the work"
        heads={['work', 'last', 'way since', 'time since', '']}
        left={[0, 1, 4]}
        rows={b.since.map((x) => [x.kind, day(x.at) || '–', x.way_m === null ? '–' : x.way_m < 1 ? 'none' : show(x.way_m, 'm', prefs, 3).text, x.run_s === null ? '–' : show(x.run_s, 's', prefs, 3).text, x.words])}
      />
      {b.charges.length > 0 && (
        <Box>
          <Rows
            label="Charges"
            heads={['charged', 'energy', 'ridden on it', 'a km', '']}
            left={[0, 4]}
            rows={b.charges.slice(0, CHARGES).map((x) => [
              day(x.at) || '–',
              x.energy_wh === null ? '–' : show(x.energy_wh, 'wh', prefs, 4).text,
              x.way_m === null ? '–' : show(x.way_m, 'm', prefs, 3).text,
              x.wh_km === null ? '–' : `${x.wh_km.toFixed(0)} Wh`,
              x.words,
            ])}
          />
          {b.charges.length > CHARGES && <Text color="ink-soft">The newest {CHARGES} of {b.charges.length}; the mean is over all that were ridden with the bike as it is.</Text>}
          {b.mean_wh_km !== null && <Text color="ink-soft">{b.mean_wh_km.toFixed(1)} Wh a km over those that count, charger to pack.</Text>}
        </Box>
      )}
      <Enter />
      <Box>
        <Flex gap="2" wrap="wrap" align="center" mb="2">
          <Input aria-label="Search the book" placeholder="search" w="field" value={text} onChange={(e) => setText(e.target.value)} />
          <NativeSelect.Root w="pick">
            <NativeSelect.Field aria-label="Kind of line" value={kind} onChange={(e) => setKind(e.target.value)}>
              <option value="">all kinds</option>
              {b.kinds.map((k) => (
                <option key={k}>{k}</option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          <Text color="ink-soft" role="status">
            {b.found} {b.found === 1 ? 'line' : 'lines'}
          </Text>
        </Flex>
        <Rows label="The book" heads={['when', 'kind', 'what', 'value', 'note']} left={[0, 1, 2, 4]} rows={b.lines.slice(0, 200).map((x) => [minute(x.at), x.kind, x.what, x.value === null ? '' : show(x.value, x.quantity, prefs, 4).text, x.note])} />
        {b.found > 200 && <Text color="ink-soft">The newest 200 are shown; search for the others.</Text>}
      </Box>
    </Flex>
  )
}

/** A line by hand: work, an incident with its cause, an odometer reading. */
function Enter() {
  const { prefs, send, fields } = useWorkshop()
  const kinds = fields.BookEntry?.find((f) => f.name === 'kind')?.options ?? []
  const [kind, setKind] = useState('re-torque')
  const [what, setWhat] = useState('')
  const [cause, setCause] = useState('')
  const unit = usualUnit('m', 1e9, prefs)
  const way = useNumber('m', unit.symbol)
  const hours = useNumber('s', 'h')
  const energy = useNumber('wh', 'Wh')
  const measured = (x: number | null, tolerance: number) => (x === null ? null : { amount: x, origin: 'measured', tolerance })
  const put = () => {
    const line = { kind, at: today(), what: what.trim(), cause: cause.trim(), odometer_m: measured(way.si, 0.01), run_s: measured(hours.si, 0.05), energy_wh: kind === 'charge' ? measured(energy.si, 0.02) : null }
    const changes = (now: Doc) => [{ path: `prove.book.${(at(now, 'prove.book') as unknown[]).length}`, value: line }]
    send({ do: 'change', changes, reason: `Book: ${what.trim() || kind}` }, () => {
      setWhat((now) => (now === what ? '' : now)) // what is refused, or typed on meanwhile, stays
      setCause((now) => (now === cause ? '' : now))
      way.set('')
      hours.set('')
      energy.set('')
    })
  }
  const wrong = way.problem !== '' || hours.problem !== '' || energy.problem !== ''
  return (
    <Flex gap="2" wrap="wrap" align="end">
      <Text as="label">
        Write down
        <NativeSelect.Root w="amount">
          <NativeSelect.Field value={kind} onChange={(e) => setKind(e.target.value)}>
            {kinds.map((k) => (
              <option key={k}>{k}</option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Text>
      <Text as="label" flex="1 1 {sizes.pick}">
        What
        <Input display="block" w="100%" value={what} onChange={(e) => setWhat(e.target.value)} />
      </Text>
      {(kind === 'incident' || kind === 'failure') && (
        <Text as="label" flex="1 1 {sizes.amount}">
          Cause, once known
          <Input display="block" w="100%" value={cause} onChange={(e) => setCause(e.target.value)} />
        </Text>
      )}
      {kind === 'charge' && <NumberField label="Energy, Wh" field={energy} w="figure" />}
      <NumberField label={`Odometer, ${unit.symbol}`} field={way} w="figure" />
      <NumberField label="Hours run, h" field={hours} w="figure" />
      <Act tone="choice" disabled={(!what.trim() && kind !== 'charge') || wrong} onClick={put}>
        Into the book
      </Act>
    </Flex>
  )
}
