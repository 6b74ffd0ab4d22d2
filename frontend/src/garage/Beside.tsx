import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { BesideOut } from '../api/client'
import { problemText, useBeside } from '../api/hooks'
import { sentence, show, type UnitPrefs } from '../lib/units'
import { chokePaint, chokeWord, hatchFill, paint } from '../theme/paint'
import { Act, Loading, Trouble } from '../ui/atoms'
import { Rows } from '../ui/Rows'

const EQUAL = [
  ['rider', 'rider'],
  ['ride', 'ride'],
  ['conditions', 'conditions'],
  ['energy', 'pack energy'],
  ['controller', 'controller'],
  ['mass', 'mass, by ballast'],
] as const

/** The choke ribbons above one another on one speed axis, the runs in parts, and where the curves cross. */
function Ribbons({ d, prefs }: { d: BesideOut; prefs: UnitPrefs }) {
  const runs = d.runs.filter((r) => r !== null)
  const last = Math.max(1, ...runs.flatMap((r) => r.spans.map((s) => s.end)))
  if (!runs.length) return null
  const heads = runs[0]!.parts.map((p) => `${show(p.start_m_s, 'm_s', prefs, 3, p.end_m_s).number}–${show(p.end_m_s, 'm_s', prefs).text}`)
  return (
    <Box mb="3">
      {runs.map((r) => (
        <Box key={r.name} mb="1">
          <Text fontSize="small" fontWeight="600">
            {r.name}
          </Text>
          <Flex h="glyph" role="img" aria-label={`${r.name}: ${r.spans.map((s) => `${chokeWord(s.choke)} to ${show(s.end, 'm_s', prefs).text}`).join(', ')}`}>
            {r.spans.map((s, i) => (
              <svg key={i} height="24" style={{ width: `${((s.end - s.start) / last) * 100}%` }} aria-hidden="true">
                <rect width="100%" height="24" fill={hatchFill(s.choke)} stroke={chokePaint(s.choke)} />
                <text x="6" y="17" fontSize="14" fontWeight="600" fill={chokePaint(s.choke)} stroke={paint('sheet')} strokeWidth="4" paintOrder="stroke">
                  {(s.end - s.start) / last > 0.08 ? chokeWord(s.choke) : ''}
                </text>
              </svg>
            ))}
          </Flex>
        </Box>
      ))}
      {d.crossings.map((c, i) => (
        <Text key={i}>
          Below <b>{show(c.speed_m_s, 'm_s', prefs).text}</b> {c.below} pulls harder, above it {c.above}.
        </Text>
      ))}
      <Rows
        label="The run in parts"
        heads={['from speed to speed', ...heads, 'quarter mile']}
        rows={runs.map((r) => [r.name, ...r.parts.map((p) => (p.seconds == null ? '–' : `${show(p.seconds, 's', prefs).text}, ${chokeWord(p.held_by)}`)), show(r.quarter_s, 's', prefs).text])}
      />
    </Box>
  )
}

/** Builds side by side: the better one of each row, the unknown as unknown, and what was not alike. */
export function Beside({ ids, prefs, close }: { ids: string[]; prefs: UnitPrefs; close: () => void }) {
  const [equal, setEqual] = useState<string[]>([])
  const got = useBeside(ids, equal)
  const d = got.data
  return (
    <Box as="section" aria-label="Side by side" bg="sheet" borderWidth="hair" borderColor="rule" borderTopWidth="bar" borderTopColor="choice" p="4" mb="4">
      <Flex align="center" gap="3">
        <Text as="h2" textStyle="title" fontSize="sub" flex="1">
          Side by side
        </Text>
        <Act onClick={close}>Close</Act>
      </Flex>
      {ids.length < 2 && <Text color="ink-soft">Choose one more build to put beside it.</Text>}
      {ids.length > 1 && (
        <Flex gap="2" wrap="wrap" align="center" my="2" role="group" aria-label="Made equal">
          <Text>Made like the first:</Text>
          {EQUAL.map(([key, label]) => (
            <Act key={key} aria-pressed={equal.includes(key)} bg={equal.includes(key) ? 'choice-wash' : 'sheet'} onClick={() => setEqual(equal.includes(key) ? equal.filter((k) => k !== key) : [...equal, key])}>
              {label}
            </Act>
          ))}
        </Flex>
      )}
      {got.isPending && ids.length > 1 && <Loading what="Comparing …" />}
      {got.error && <Trouble text={problemText(got.error)} />}
      {d?.equal.map((e) => (
        <Text key={e.key} fontSize="body" color="choice">
          {e.label}: {e.words.length ? e.words.map((w) => sentence(w, prefs)).join('; ') : 'alike already'}
        </Text>
      ))}
      {d && (
        <>
          <Ribbons d={d} prefs={prefs} />
          <Rows
            label="Builds side by side"
            heads={['', ...d.names]}
            left={[0, ...d.names.map((_, i) => i + 1)]}
            rows={d.rows.map((r) => [
              r.label,
              ...r.cells.map((c, i) => {
                const words = r.quantity === '' && c.words ? chokeWord(c.words) : c.words
                const value = c.value === null ? (words ? '' : 'unknown') : show(c.value, r.quantity, prefs).text
                return (
                  <Text key={i} as="span" fontWeight={c.best ? '700' : '400'} color={c.value === null && !c.words ? 'caution' : 'ink'}>
                    {[value, words].filter(Boolean).join(', ')}
                    {c.best ? ' ◂ best' : ''}
                  </Text>
                )
              }),
            ])}
          />
          {d.unlike.length > 0 && (
            <Box mt="2">
              <Text fontWeight="600" color="caution">
                Not alike, so part of each difference:
              </Text>
              {d.unlike.map((u) => (
                <Text key={u.label}>
                  {u.label}: {u.values.map((v, i) => `${d.names[i]} ${show(v, u.quantity, prefs).text}`).join('; ')}
                </Text>
              ))}
            </Box>
          )}
        </>
      )}
    </Box>
  )
}
