import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { http, ok } from '../../api/client'
import { useRollers } from '../../api/hooks'
import { useJob } from '../../api/job'
import type { components } from '../../api/schema'
import { at } from '../../lib/path'
import { sentence, show } from '../../lib/units'
import { chokeWord } from '../../theme/paint'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'

type Found = components['schemas']['Proposals']
type Whole = Found['builds'][number]

/** Whole builds from the wishes and the bay: three that work, what each misses, and the schools against one
 * another. */
export function Propose() {
  const { bench, prefs, open } = useWorkshop()
  const bare = at(bench.doc, 'donor.mass_kg.amount') == null
  const rollers = useRollers().data ?? []
  const [roller, setRoller] = useState(bare ? 'light' : '')
  const [asked, ask] = useState('')
  const query = roller ? { roller } : {}
  const { result: d, problem, running, stop, job } = useJob<Found>(
    asked,
    asked ? () => ok(http.POST('/api/builds/{build_id}/propose', { params: { path: { build_id: bench.id }, query } })) : null,
  )
  const wishes = ['top_speed_m_s', 'to_time_s', 'power_w', 'ride_m'].filter((k) => at(bench.doc, `goal.${k}.amount`) != null)
  return (
    <Box>
      <Flex gap="2" wrap="wrap" align="center">
        <Text>Start from</Text>
        <NativeSelect.Root w="wide">
          <NativeSelect.Field aria-label="Start from" h="touch" bg="sheet" borderColor="rule-strong" value={roller} onChange={(e) => setRoller(e.target.value)}>
            <option value="">the donor as it is</option>
            {rollers.map((r) => (
              <option key={r.key} value={r.key}>
                {r.label}
              </option>
            ))}
          </NativeSelect.Field>
        </NativeSelect.Root>
        <Act tone="choice" disabled={running} onClick={() => ask(`${bench.version}:${roller}:${Date.now()}`)}>
          Propose whole builds
        </Act>
        {running && <Act onClick={stop}>Stop</Act>}
        {wishes.length === 0 && (
          <Act onClick={() => open({ kind: 'part', path: 'goal' })}>Give a wish first</Act>
        )}
        <Text role="status" color="ink-soft">
          {d && job?.state !== 'done' ? `${d.stage} … ${d.looked_at} of ${d.of}` : d ? `${d.looked_at} combinations weighed in ${Math.round(job?.seconds ?? 0)} s` : ''}
        </Text>
      </Flex>
      {problem && <Trouble text={problem} />}
      {d && d.assumed.length > 0 && <Text color="caution">Assumed, to be measured: {d.assumed.join(', ')}.</Text>}
      {d && d.builds.length === 0 && job?.state === 'done' && (
        <Box mt="2" role="note">
          <Text>No combination is left without a stop: a larger bay, other parts on the shelf, or a smaller wish.</Text>
        </Box>
      )}
      {d?.why.map((t) => (
        <Text key={t} mt="2" fontWeight="600" role="note">
          {sentence(t, prefs)}
        </Text>
      ))}
      <Flex gap="3" wrap="wrap" mt="3">
        {d?.builds.map((w, i) => (
          <Card key={w.label} w={w} first={i === 0 && job?.state === 'done'} />
        ))}
      </Flex>
      {d?.left.map((t) => (
        <Text key={t} mt="2" color="ink-soft">
          {t}
        </Text>
      ))}
      {d && d.schools.length > 0 && d.builds.length > 0 && (
        <Box mt="3">
          <Rows
            label="Schools"
            heads={['the best of each way', 'misses the wish by', 'priced parts', 'bike']}
            rows={d.schools.map((s) => [
              s.name,
              s.gap == null ? 'nothing fits' : s.gap < 0.005 ? 'nothing' : `${Math.round(s.gap * 100)} % in all`,
              s.money == null ? '–' : show(s.money, 'money', prefs, 4).text,
              show(s.kg, 'kg', prefs).text,
            ])}
          />
        </Box>
      )}
    </Box>
  )
}

function Card({ w, first }: { w: Whole; first: boolean }) {
  const { bench, prefs, send, change, busy } = useWorkshop()
  const [bill, setBill] = useState(false)
  const h = w.headline
  const take = () => {
    const go = () => change(w.changes as { path: string; value: unknown }[], `Proposed: ${w.label}`)
    if (bench.trial) go()
    else send({ do: 'try' }, go)
  }
  const missed = w.checks.filter((c) => c.met !== 'yes')
  return (
    <Box as="article" aria-label={w.label} flex="1 1 {sizes.wide}" maxW="panel" bg="sheet" borderWidth="hair" borderColor={first ? 'choice' : 'rule-strong'} borderTopWidth="bar" p="3">
      <Text fontWeight="600">{w.label}</Text>
      <Text color="ink-soft" fontSize="small">
        {w.school.join(', ')}
      </Text>
      <Flex gap="3" wrap="wrap" my="2">
        {[
          ['top speed', show(h.top_speed_m_s, 'm_s', prefs).text],
          [`to ${show(h.to_speed_m_s, 'm_s', prefs).text}`, show(h.to_time_s, 's', prefs).text],
          ['range', show(h.range_m, 'm', prefs).text],
          ['bike', show(w.kg, 'kg', prefs).text],
          ['priced parts', show(w.money, 'money', prefs, 4).text],
        ].map(([label, text]) => (
          <Box key={label}>
            <Text textStyle="label">{label}</Text>
            <Text textStyle="digits" fontSize="head">
              {text}
            </Text>
          </Box>
        ))}
      </Flex>
      <Text fontSize="body">Held back by {chokeWord(h.choke ?? '')}. No stop stands.</Text>
      {missed.length === 0 ? (
        <Text fontWeight="600">Meets every wish.</Text>
      ) : (
        missed.map((c) => (
          <Text key={c.label} fontSize="body" color="caution">
            {c.label}: {show(c.have, c.quantity, prefs).text} of {show(c.want, c.quantity, prefs).text}
          </Text>
        ))
      )}
      {w.cautions.length > 0 && (
        <Text fontSize="small" color="ink-soft">
          {w.cautions.length} cautions to work through, such as: {w.cautions.slice(0, 2).join('; ')}.
        </Text>
      )}
      <Flex gap="2" mt="2">
        <Act tone={first ? 'choice' : 'plain'} disabled={busy} onClick={take} aria-label={`Take ${w.label}`}>
          Take as what-if
        </Act>
        <Act aria-expanded={bill} onClick={() => setBill(!bill)}>
          Bill
        </Act>
      </Flex>
      {bill && (
        <Rows
          label={`Bill of ${w.label}`}
          heads={['part', 'which', 'count', 'price']}
          left={[0, 1]}
          rows={w.bill.map((l) => [l.what, l.name, String(l.count), l.money == null ? '–' : show(l.money, 'money', prefs, 4).text])}
        />
      )}
    </Box>
  )
}
