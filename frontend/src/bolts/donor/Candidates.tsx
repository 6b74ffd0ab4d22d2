import { Box, Flex, Text } from '@chakra-ui/react'
import { show } from '../../lib/units'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { useLines } from '../../ui/useLines'
import { Rows } from '../../ui/Rows'
import type { D } from './SideView'

const WORDS: Record<string, string> = { go: 'go', no: 'no', open: 'not enough known', 'only with work': 'only with work' }
const TONE: Record<string, string> = { go: 'ink', no: 'stop', open: 'caution', 'only with work': 'caution' }

/** Chassis side by side: the leader of each row is marked, the unknown is shown as unknown. */
export function Candidates({ d }: { d: D }) {
  const { prefs } = useWorkshop()
  const lines = useLines('donor.candidates', 'Candidate', 'Added a candidate')
  const c = d.comparison
  return (
    <Box>
      {c ? (
        <Rows
          label="Candidates"
          heads={['', ...c.judged.map((j) => j.name)]}
          left={[0, ...c.judged.map((_, i) => i + 1)]}
          rows={[
            ['Verdict', ...c.judged.map((j) => <Text key={j.name} as="span" fontWeight="700" color={TONE[j.verdict]}>{WORDS[j.verdict]}</Text>)],
            ...c.rows.map((r) => [
              r.label,
              ...r.cells.map((cell, i) => {
                const text = cell.words ?? (cell.value === null ? 'unknown' : show(cell.value, r.quantity, prefs).text)
                const unknown = cell.words === null && cell.value === null
                return (
                  <Text key={i} as="span" color={unknown ? 'caution' : 'ink'} fontWeight={r.best.includes(i) ? '700' : '400'}>
                    {text}
                    {r.best.includes(i) ? ' ◂ best' : ''}
                  </Text>
                )
              }),
            ]),
            ['Against it', ...c.judged.map((j) => j.reasons.join('; ') || '–')],
            ['Weak for the plan', ...c.judged.map((j) => j.weak.join('; ') || '–')],
            ['Find out', ...c.judged.map((j) => j.unknown.join(', ') || '–')],
            ['', ...c.judged.map((j, i) => <Act key={j.name} px="2" aria-label={`Open ${j.name}`} onClick={() => lines.open(i)}>open</Act>)],
          ]}
        />
      ) : (
        <Text color="ink-soft">Put two or three donors side by side before money changes hands.</Text>
      )}
      <Act mt="2" onClick={() => lines.add()}>
        Add a candidate
      </Act>
    </Box>
  )
}

const STATE: Record<string, string> = { label: 'on the label', measured: 'measured', guess: 'a guess', missing: 'missing' }

/** What a salvaged part's label proves, what must be measured, what is missing. */
export function Salvaged({ d }: { d: D }) {
  const { prefs } = useWorkshop()
  const lines = useLines('donor.salvage', 'Salvaged part', 'Added a candidate')
  return (
    <Box>
      {d.salvage.map((s, i) => (
        <Box key={s.name + String(i)} mb="4">
          <Flex gap="3" align="center" wrap="wrap">
            <Text textStyle="title" fontSize="title">
              {s.name}
            </Text>
            <Text fontWeight="700" color={TONE[s.verdict]}>
              {WORDS[s.verdict]}
            </Text>
            <Text color="ink-soft" flex="1">
              {s.missing ? `${s.missing} thing${s.missing === 1 ? '' : 's'} missing` : 'nothing missing'}
            </Text>
            <Act px="2" aria-label={`Open ${s.name}`} onClick={() => lines.open(i)}>
              open
            </Act>
          </Flex>
          <Rows
            label={`What is known of ${s.name}`}
            heads={['', 'value', 'known from', 'what to do']}
            left={[0, 1, 2, 3]}
            rows={s.proofs.map((p) => [
              p.label,
              p.words || (p.value === null ? '' : show(p.value, p.quantity, prefs).text),
              <Text key="s" as="span" color={p.state === 'missing' ? 'caution' : 'ink'}>
                {STATE[p.state]}
              </Text>,
              p.todo,
            ])}
          />
          {s.usable.map((u) => (
            <Text key={u}>Meanwhile: {u}.</Text>
          ))}
        </Box>
      ))}
      {!d.salvage.length && <Text color="ink-soft">A motor or pack out of a wreck: what does its label prove, and what is missing?</Text>}
      <Flex gap="2" mt="2">
        <Act onClick={() => lines.add({ kind: 'motor' })}>Add a motor</Act>
        <Act onClick={() => lines.add({ kind: 'pack' })}>Add a pack</Act>
      </Flex>
    </Box>
  )
}
