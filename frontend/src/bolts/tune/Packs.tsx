import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { useSwap } from '../../api/link'
import { at } from '../../lib/path'
import { show } from '../../lib/units'
import { Act, Severity, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { NumberField, useNumber } from '../../ui/NumberField'

/** A set for each pack or purpose; swapping says what differs, whether the pack fits, and in which order. */
export function Packs() {
  const { bench, prefs, open, change } = useWorkshop()
  const profiles = (at(bench.doc, 'tune.profiles') as { name: string; purpose: string }[] | undefined) ?? []
  const [before, setBefore] = useState('')
  const [after, setAfter] = useState(profiles[0]?.name ?? '')
  const reads = useNumber('v', 'V')
  const plan = useSwap(bench.id, bench.version, before, after, reads.si)
  const add = () => change((now) => {
    const count = (at(now, 'tune.profiles') as unknown[]).length
    return [{ path: `tune.profiles.${count}`, value: { name: `Pack ${count + 2}`, purpose: 'pack' } }]
  }, 'Another profile')
  const pick = (label: string, value: string, set: (v: string) => void) => (
    <Text as="label">
      {label}{' '}
      <NativeSelect.Root w="field" display="inline-block">
        <NativeSelect.Field aria-label={label} value={value} onChange={(e) => set(e.target.value)}>
          <option value="">this build&apos;s own</option>
          {profiles.map((p) => (
            <option key={p.name}>{p.name}</option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Text>
  )
  const d = plan.data
  return (
    <Flex direction="column" gap="3" py="3">
      <Flex gap="2" wrap="wrap" align="center">
        {profiles.map((p, i) => (
          <Act key={p.name + String(i)} onClick={() => open({ kind: 'part', path: `tune.profiles.${i}` })}>
            {p.name} <Text as="span" color="ink-soft">{p.purpose}</Text>
          </Act>
        ))}
        <Act onClick={add}>Another</Act>
      </Flex>
      {profiles.length > 0 && (
        <>
          <Flex gap="3" wrap="wrap" align="center">
            {pick('From', before, setBefore)}
            {pick('to', after, setAfter)}
            <NumberField label="The pack reads, V" field={reads} />
          </Flex>
          {plan.error && <Trouble text={problemText(plan.error)} />}
          {d?.verdict && (
            <Flex gap="2" align="center" role="status">
              <Severity kind={d.verdict.fits ? 'note' : 'stop'} />
              <Text fontWeight="600">{d.verdict.sentence}</Text>
            </Flex>
          )}
          {d && d.windows.length > 0 && <Text color="ink-soft">At rest, from empty to full: {d.windows.map((x) => `${x.name} ${show(x.low_v, 'v', prefs).number} to ${show(x.high_v, 'v', prefs).text}, ${x.cells} in series`).join('; ')}.</Text>}
          {d && d.rows.length === 0 && <Text>Nothing differs between these two.</Text>}
          {d && d.rows.length > 0 && (
            <Flex gap="5" wrap="wrap" align="start">
              <Box flex="2 1 {sizes.panel}" minW="0">
                <Rows
                  label="What differs"
                  heads={['parameter', before || 'own', after || 'own', 'because']}
                  left={[0, 3]}
                  rows={d.rows.map((r) => [r.label, show(r.before, r.quantity, prefs, 4).text, show(r.after, r.quantity, prefs, 4).text, r.why])}
                />
              </Box>
              <Box as="ol" flex="1 1 {sizes.wide}" pl="5" listStyleType="decimal">
                {d.steps.map((s) => (
                  <Text as="li" key={s} mb="1">
                    {s}
                  </Text>
                ))}
              </Box>
            </Flex>
          )}
        </>
      )}
    </Flex>
  )
}
