import { Box, Flex, Table, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Drawings, LogRow } from '../../api/client'
import { useLogs, useRegisters } from '../../api/hooks'
import { stringAt } from '../../lib/path'
import { percentChange, show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Act, Severity, Wrapped } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { Plot } from '../../ui/Plot'
import { Missing, Workbench } from '../../ui/Workbench'
import type { GateState } from '../../api/prove'
import { Tabs } from '../../ui/Tabs'
import { RunBook } from './Book'
import { Film, SameTune } from './FairFilm'
import { Finder } from './Finder'
import { Claims } from './Claims'
import { Gates } from './Gates'
import { ImportLog } from './ImportLog'
import { Learn } from './Learn'
import { RiddenAs } from './RiddenAs'
import { LogFigures } from './LogFigures'
import { OverRuns } from './OverRuns'
import { Ride } from './Ride'
import { Sessions } from './Sessions'
import { Traces } from './Traces'

type P = NonNullable<Drawings['prove']>

export function Prove() {
  const { bench, prefs } = useWorkshop()
  const d = bench.assessment.drawings.prove
  const [file, setFile] = useState<File | null>(null)
  const tools = <FilePick tone="choice" label="Import a log" name="Log file" reads="ride" pick={setFile} />
  return (
    <Workbench parts={['prove', 'goal']} tools={tools} under={d && <Below d={d} />}>
      {file ? (
        <ImportLog file={file} close={() => setFile(null)} />
      ) : d && (d.t_s.length > 0 || d.log_t_s.length > 0) ? (
        <Plot
          prefs={prefs}
          label="Speed over time: predicted and logged, with the choke along the predicted run"
          x={{ quantity: 's', label: 'time from the start' }}
          y={{ quantity: 'm_s', label: 'speed' }}
          lines={[
            ...(d.t_s.length ? [{ label: 'predicted', x: d.t_s, y: d.speed_m_s, colour: paint('ink'), width: 2.5, labelAt: 0.45 }] : []),
            ...(d.log_t_s.length ? [{ label: 'logged', x: d.log_t_s, y: d.log_speed_m_s, colour: paint('choice'), width: 2.5, dash: '8 3', labelAt: 0.8 }] : []),
          ]}
          ribbon={d.ribbon.length ? d.ribbon : undefined}
        />
      ) : (
        <Missing />
      )}
    </Workbench>
  )
}

function Below({ d }: { d: P }) {
  return (
    <Tabs
      label="Behind the run"
      tabs={[
        { key: 'splits', label: 'Splits', body: <Under d={d} /> },
        { key: 'figures', label: 'Figures', body: <LogFigures /> },
        { key: 'traces', label: 'Traces', body: <Traces /> },
        { key: 'over', label: 'Overlay', body: <OverRuns /> },
        { key: 'gates', label: 'First power', body: <Gates gates={d.gates as GateState[]} /> },
        { key: 'ride', label: 'Ride it?', body: <Ride /> },
        { key: 'claims', label: 'Claims', body: <Claims /> },
        { key: 'finder', label: 'Faults', body: <Finder symptoms={d.symptoms} /> },
        { key: 'learn', label: 'Learn', body: <Learn /> },
        { key: 'sessions', label: 'Compare', body: (
            <>
              <Sessions />
              <SameTune />
              <Film />
            </>
          ) },
        { key: 'book', label: 'Book', body: <RunBook /> },
      ]}
    />
  )
}

function Under({ d }: { d: P }) {
  const { prefs, change, bench, send } = useWorkshop()
  const chosen = stringAt(bench.doc, 'prove.log_id')
  const logs = useLogs(bench.id, chosen).data ?? []
  const forms = useRegisters().data?.logs ?? []
  const [asked, setAsked] = useState('')
  const [removed, setRemoved] = useState<LogRow | null>(null)
  const fair = d.rows.some((r) => r.fair_s !== null)
  return (
    <Flex gap="6" wrap="wrap" pb="3">
      <Box flex="3 1 {sizes.panel}" overflowX="auto" tabIndex={0} role="region" aria-label="Splits">
        <Flex justify="space-between" align="center" wrap="wrap" gap="2">
          <Text textStyle="title" fontSize="lead">
            Splits{d.rollout ? ', with one-foot rollout' : ', no rollout'}
            {d.held && `, with the ${d.held} held closed`}
          </Text>
          <Act onClick={() => change([{ path: 'prove.rollout', value: !d.rollout }], 'Rollout')} aria-pressed={d.rollout}>
            Rollout {d.rollout ? 'on' : 'off'}
          </Act>
        </Flex>
        <Table.Root size="sm" aria-label="Splits">
          <Table.Header>
            <Table.Row bg="transparent">
              {['mark', 'predicted', 'logged ± 95 %', ...(fair ? ['wind and slope off'] : []), 'logged to predicted', 'trap'].map((t) => (
                <Table.ColumnHeader key={t} textAlign={t === 'mark' ? 'start' : 'end'} color="ink-soft" minW={t === 'mark' ? 'figure' : undefined}>
                  {t}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {d.rows.map((r) => (
              <Table.Row key={r.name} bg="transparent">
                <Table.Cell fontWeight="600">{r.name}</Table.Cell>
                {[r.predicted_s, r.logged_s, ...(fair ? [r.fair_s] : [])].map((v, i) => (
                  <Table.Cell key={i} textAlign="end" fontWeight={i === 1 ? '600' : '400'} whiteSpace="nowrap">
                    {v === null ? '–' : v.toFixed(2)}
                    {i === 1 && v !== null && r.u95_s !== null && <Text as="span" fontWeight="400"> ± {r.u95_s.toFixed(2)}</Text>}
                    {i === 2 && v !== null && r.fair_u95_s !== null && <Text as="span" fontWeight="400"> ± {r.fair_u95_s.toFixed(2)}</Text>}
                  </Table.Cell>
                ))}
                <Table.Cell textAlign="end">{percentChange(r.diff, 1) || '–'}</Table.Cell>
                <Table.Cell textAlign="end">{show(r.trap_logged_m_s ?? r.trap_predicted_m_s, 'm_s', prefs).text}</Table.Cell>
              </Table.Row>
            ))}
            <Table.Row bg="transparent">
              <Table.Cell fontWeight="600">top speed, held 1 s</Table.Cell>
              <Table.Cell textAlign="end">{show(d.top_predicted_m_s, 'm_s', prefs).text}</Table.Cell>
              <Table.Cell textAlign="end" fontWeight="600">
                {show(d.top_logged_m_s, 'm_s', prefs).text}
                {d.top_u95_m_s !== null && <Text fontWeight="400">± {show(d.top_u95_m_s, 'm_s', prefs, 2).text}</Text>}
              </Table.Cell>
              {fair && <Table.Cell textAlign="end">{show(d.top_fair_m_s, 'm_s', prefs).text}</Table.Cell>}
              <Table.Cell />
              <Table.Cell />
            </Table.Row>
          </Table.Body>
        </Table.Root>
      </Box>
      <Box flex="1 1 {sizes.field}">
        <Text textStyle="title" fontSize="lead" minH="touch" pt="3">
          Logs
        </Text>
        {logs.length === 0 && <Text color="ink-soft">None yet. CSV, GPX or NMEA of a standing start.</Text>}
        {logs.map((l) => (
          <Flex key={l.id} gap="1" mb="1">
            <Act flex="1" minW="0" justifyContent="flex-start" aria-pressed={l.id === chosen} bg={l.id === chosen ? 'choice-wash' : 'sheet'} onClick={() => change([{ path: 'prove.log_id', value: l.id }], `Showed ${l.name}`)}>
              <Wrapped>{l.name}</Wrapped>
            </Act>
            {asked === l.id ? (
              <Act tone="choice" onClick={() => (setAsked(''), setRemoved(l), send({ do: 'unlog', logId: l.id }))}>
                Remove it
              </Act>
            ) : (
              <Act aria-label={`Remove ${l.name} …`} onClick={() => setAsked(l.id)}>
                ✕
              </Act>
            )}
          </Flex>
        ))}
        {chosen && logs.some((l) => l.id === chosen) && (
          <Flex gap="1" mb="1" wrap="wrap" role="group" aria-label="The chosen log as a file">
            {forms.map((f) => (
              <Act key={f.key} asChild>
                <a href={`/api/builds/${bench.id}/logs/${chosen}/file?kind=${f.key}`} download>
                  {f.label}
                </a>
              </Act>
            ))}
          </Flex>
        )}
        {removed && !logs.some((l) => l.id === removed.id) && (
          <Act w="100%" justifyContent="flex-start" onClick={() => (send({ do: 'relog', logId: removed.id }), setRemoved(null))}>
            <Wrapped>Put {removed.name} back</Wrapped>
          </Act>
        )}
        {d.launches.length > 1 && (
          <Flex gap="1" wrap="wrap" mt="2" role="group" aria-label="Standing starts of this log">
            {d.launches.map((l, i) => (
              <Act key={i} aria-pressed={i === d.chosen} bg={i === d.chosen ? 'choice-wash' : 'sheet'} onClick={() => change([{ path: 'prove.launch', value: i + 1 }], `Start ${i + 1} of the log`)}>
                {i + 1}: at {l.t0_s.toFixed(0)} s, to {show(l.peak_m_s, 'm_s', prefs).text}
              </Act>
            ))}
          </Flex>
        )}
        {d.rate_hz !== null && (
          <Text fontSize="small" color="ink-soft" mt="2">
            {d.rate_hz.toFixed(1)} samples a second, speed noise {show(d.noise_m_s, 'm_s', prefs, 2).text}. Quality: <b>{d.quality}</b>
            {d.quality_why.length > 0 && `, because ${d.quality_why.join('; ')}`}
          </Text>
        )}
        <RiddenAs log={chosen} />
        {d.issues.map((t) => (
          <Text key={t} fontSize="small" mt="1">
            {t}
          </Text>
        ))}
        <Flex gap="2" mt="4" align="flex-start">
          <Severity kind="caution" size={20} />
          <Text fontSize="small">
            A first full-throttle run is made wheel free, then at low power, then where it is allowed: a closed course, gear on, someone watching. Road law decides.
          </Text>
        </Flex>
      </Box>
    </Flex>
  )
}
