import { Box, Flex, Text } from '@chakra-ui/react'
import type { Fix } from '../api/client'
import { refusal, useAdvice } from '../api/hooks'
import { show, signOf } from '../lib/units'
import { Act, Loading, Noted, Severity, Trouble } from './atoms'
import { useWorkshop } from './bench'
import { effectWords } from './Strip'

/** What to change first: each proposal was tried on the build, with what it costs, brings and clears. */
export function Advisor({ attempt }: { attempt: (fix: Fix) => void }) {
  const { bench, prefs, busy } = useWorkshop()
  const got = useAdvice(bench.id, `${bench.seq}:${JSON.stringify(bench.trial)}`)
  const wrong = refusal(got)
  if (wrong) return <Trouble text={wrong} />
  const d = got.data
  if (!d) return <Loading what="Trying what may be changed …" />
  return (
    <Box as="section" aria-label="What to change first">
      <Text textStyle="title" fontSize="title">
        What to change first
      </Text>
      <Text fontSize="small" color="ink-soft">
        {d.looked_at} changes tried, and pairs of them; nearest to {d.goal} first.
      </Text>
      {(d.stops?.length ?? 0) > 0 && (
        <Noted kind="stop" strong>
          First of all clear what stops the bike: {d.stops!.join('; ')}.
        </Noted>
      )}
      {d.gap === 0 && <Text mt="2">The goal is met as it stands.</Text>}
      {d.proposals.map((p, i) => {
        const words = effectWords(d.now, p.after, prefs)
        return (
          <Box key={p.fix.label} py="2" borderBottomWidth="hair" borderColor="rule" role="group" aria-label={p.fix.label}>
            <Flex gap="2" align="start">
              <Text textStyle="digits" fontSize="title" w="glyph">
                {i + 1}
              </Text>
              <Text flex="1" fontWeight="600">
                {p.fix.label}
              </Text>
              <Act disabled={busy} aria-label={`Try ${p.fix.label}`} onClick={() => attempt(p.fix as Fix)}>
                Try
              </Act>
            </Flex>
            <Text fontSize="body" color="choice">
              {words.join(' · ') || 'no figure moves'}
            </Text>
            <Text fontSize="small" color={p.over_budget ? 'caution' : 'ink-soft'}>
              {p.money == null ? 'price not known' : p.money === 0 ? 'costs nothing' : `costs about ${Math.round(p.money)}`}
              {Math.abs(p.mass_kg) > 0.05 ? `, ${signOf(p.mass_kg)}${show(Math.abs(p.mass_kg), 'kg', prefs).text}` : ''}
              {p.over_budget ? ': over what is left of the budget' : ''}
              {p.forces.length > 0 ? `; look at ${p.forces.join(', ')}` : ''}
            </Text>
            {p.come.map((s) => (
              <Flex key={`c${s.title}`} gap="1" align="center" fontSize="small">
                <Severity kind={s.severity as 'stop' | 'caution'} size={16} /> brings: {s.title}
              </Flex>
            ))}
            {p.go.length > 0 && <Text fontSize="small">clears: {p.go.map((s) => s.title).join('; ')}</Text>}
          </Box>
        )
      })}
      {d.useless.length > 0 && (
        <Box mt="2">
          {d.useless.map((u) => (
            <Text key={u.label} fontSize="body">
              <b>{u.label}</b> {u.words}.
            </Text>
          ))}
        </Box>
      )}
    </Box>
  )
}
