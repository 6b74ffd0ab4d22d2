import { Box, Field, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useCodes, useControllerKinds } from '../../api/link'
import { plainNumber } from '../../lib/units'
import { NamePick } from '../../ui/NamePick'
import { Severity } from '../../ui/atoms'

/** What a controller's light, beeper or display says, without a link to it. */
export function Codes() {
  const kinds = useControllerKinds().data ?? []
  const [kind, setKind] = useState('bench')
  const [doing, setDoing] = useState('')
  const [seen, setSeen] = useState({ number: '', long: '', short: '' })
  const all = useCodes(kind, doing).data ?? []
  const table = all.map((c) => ({ ...c.code, expected: c.expected, where: c.where, flashes: c.code.blinks as [number, number] }))
  const contexts = [...new Set(table.flatMap((c) => c.during))]
  const [number, long, short] = [seen.number, seen.long, seen.short].map((s) => (s.trim() === '' ? null : (plainNumber(s) ?? NaN)))
  const given = [number, long, short].some((n) => n !== null)
  const found = table.filter((c) => (number === null || c.number === number) && (long === null || c.flashes[0] === long) && (short === null || c.flashes[1] === short))
  const box = (key: 'number' | 'long' | 'short', label: string) => (
    <Field.Root w="figure">
      <Field.Label>{label}</Field.Label>
      <Input inputMode="numeric" value={seen[key]} onChange={(e) => setSeen({ ...seen, [key]: e.target.value })} />
    </Field.Root>
  )
  return (
    <Box as="section" aria-label="What a code means">
      <Text fontWeight="600">What a code means</Text>
      <Flex gap="3" wrap="wrap" align="flex-end">
        {box('number', 'Number shown')}
        {box('long', 'Long flashes')}
        {box('short', 'Short flashes')}
        <Field.Root w="wide">
          <Field.Label>While</Field.Label>
          <NativeSelect.Root>
            <NativeSelect.Field value={doing} onChange={(e) => setDoing(e.target.value)}>
              <option value="">riding, or nothing of these</option>
              {contexts.map((c) => (
                <option key={c}>{c}</option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Field.Root>
        {kinds.length > 1 && <NamePick label="Controller whose code it is" rows={kinds.map((k) => ({ id: k.key, name: k.name }))} value={kind} pick={setKind} w="field" />}
      </Flex>
      <Text color="ink-soft" fontSize="small">
        Beeps count as flashes. Count one whole round, from pause to pause.
      </Text>
      {table.length === 0 && <Text py="2">This kind has no table of codes: type it in with its dictionary file, from its papers.</Text>}
      {given && table.length > 0 && found.length === 0 && (
        <Text py="2" role="status">
          Not in this controller's table: count again, and look it up in its papers. Until it is known, do not ride.
        </Text>
      )}
      {given &&
        found.slice(0, 6).map((c) => (
          <Flex key={c.number} gap="3" py="2" borderTopWidth="hair" borderColor="rule" role="status">
            <Severity kind={c.expected || c.number === 0 ? 'note' : 'caution'} />
            <Box>
              <Text fontWeight="600">
                {c.number}: {c.label}
                {c.flashes[0] + c.flashes[1] > 0 ? `, ${c.flashes[0]} long, ${c.flashes[1]} short` : ''}
              </Text>
              {c.number > 0 && <Text>{c.expected ? `Expected during ${doing}: no fault by itself. If it stays afterwards it is one.` : contexts.length > 0 ? 'A real fault: find its cause before the next ride.' : 'Whether some routine is meant to give it, its papers say; else find its cause before the next ride.'}</Text>}
              {c.causes.length > 0 && <Text>Look in this order: {c.causes.join('; ')}.</Text>}
              {c.where.length > 0 && <Text>Measure: {c.where.join('; ')}.</Text>}
            </Box>
          </Flex>
        ))}
      {given && found.length > 6 && <Text py="2" role="status">and {found.length - 6} more with these flashes: their numbers tell them apart.</Text>}
    </Box>
  )
}
