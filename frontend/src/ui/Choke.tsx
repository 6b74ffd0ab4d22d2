import { Box, Flex, Text } from '@chakra-ui/react'
import type { Fix } from '../api/client'
import { refusal, useChoke } from '../api/hooks'
import { show } from '../lib/units'
import { chokePaint, chokeWord, hatchFill } from '../theme/paint'
import { Act, Loading, Trouble } from './atoms'
import { Advisor } from './Advisor'
import { useWorkshop } from './bench'
import { changesOf } from './Findings'
import { effectWords, opensWords } from './Strip'

/** Which link holds the bike back, over which speeds, what raises it and by how much. */
export function Choke() {
  const { bench, prefs, change, send, busy } = useWorkshop()
  const attempt = (fix: Fix) => {
    const go = () => change(changesOf(fix), fix.label)
    if (bench.trial) go()
    else send({ do: 'try' }, go)
  }
  const got = useChoke(bench.id, `${bench.seq}:${JSON.stringify(bench.trial)}`)
  const wrong = refusal(got)
  if (wrong) return <Trouble text={wrong} />
  const d = got.data
  if (!d) return <Loading what="Trying what would raise it …" />
  const last = d.spans[d.spans.length - 1]?.end ?? 1
  return (
    <Box py="3">
      <Advisor attempt={attempt} />
      <Text textStyle="title" fontSize="title" mt="4" mb="2">
        Link by link
      </Text>
      {d.now.opens && (
        <Text color="stop" fontWeight="600" mb="2">
          {opensWords(d.now, prefs)}: what lies behind that is not reached.
        </Text>
      )}
      <Text fontWeight="600">Over road speed, throttle open</Text>
      <Flex h="glyph" my="2" borderWidth="hair" borderColor="rule-strong" role="img" aria-label={d.spans.map((s) => `${chokeWord(s.choke)} from ${show(s.start, 'm_s', prefs).text} to ${show(s.end, 'm_s', prefs).text}`).join(', ')}>
        {d.spans.map((s, i) => (
          <svg key={i} height="24" style={{ width: `${((s.end - s.start) / last) * 100}%` }} aria-hidden="true">
            <rect width="100%" height="24" fill={hatchFill(s.choke)} stroke={chokePaint(s.choke)} />
          </svg>
        ))}
      </Flex>
      {d.spans.map((s, i) => (
        <Text key={i} fontSize="body">
          <b>{chokeWord(s.choke)}</b> {show(s.start, 'm_s', prefs, 3, s.end).number} to {show(s.end, 'm_s', prefs).text}
        </Text>
      ))}
      {d.held.map((h) => (
        <Box key={h.choke} mt="4" role="group" aria-label={chokeWord(h.choke)}>
          <Flex align="center" gap="2">
            <svg width="22" height="24" aria-hidden="true">
              <rect x="1" y="1" width="20" height="22" fill={hatchFill(h.choke)} stroke={chokePaint(h.choke)} strokeWidth="2" />
            </svg>
            <Text textStyle="title" fontSize="title">
              {chokeWord(h.choke)}
            </Text>
            <Text color="ink-soft">{h.share > 0 ? `${Math.max(1, Math.round(h.share * 100))} % of the standing run` : 'at top speed'}</Text>
          </Flex>
          {h.levers.length === 0 && <Text color="ink-soft">Nothing in this build raises it by a press.</Text>}
          {h.levers.map((l) => {
            const words = l.after ? effectWords(d.now, l.after, prefs) : []
            return (
              <Box key={l.fix.label} py="2" borderBottomWidth="hair" borderColor="rule">
                <Flex gap="2" align="center">
                  <Text flex="1" fontWeight="600">
                    {l.fix.label}
                  </Text>
                  <Act disabled={busy || !l.after} aria-label={`Try ${l.fix.label}`} onClick={() => attempt(l.fix)}>
                    Try
                  </Act>
                </Flex>
                <Text fontSize="body" color={words.length ? 'choice' : 'ink-soft'}>
                  {l.after ? (words.length ? words.join(' · ') : 'brings nothing: another link holds at once') : 'cannot be tried'}
                </Text>
                {l.bound && (
                  <Text fontSize="small" color="caution">
                    {l.bound}
                  </Text>
                )}
              </Box>
            )
          })}
        </Box>
      ))}
    </Box>
  )
}
