import { Box, Flex, NativeSelect, Table, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { type LogPreview, upload } from '../../api/client'
import { useRegisters } from '../../api/hooks'
import { useJob } from '../../api/job'
import type { components } from '../../api/schema'
import { show, unitsOf } from '../../lib/units'
import { Act, Loading, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { Plot } from '../../ui/Plot'
import { paint } from '../../theme/paint'

type JobOut = components['schemas']['JobOut']
type Reading = components['schemas']['LogReading']
interface Column {
  name: string
  column: string
  unit: string
}

/** Look at a log before it is kept: which column is what, and what it would say. */
export function ImportLog({ file, close }: { file: File; close: () => void }) {
  const { bench, send, prefs, busy } = useWorkshop()
  const ours = useRegisters().data?.ride_columns ?? []
  const [mapping, setMapping] = useState<Column[] | null>(null)
  const [dbc, setDbc] = useState('')
  const chosen = mapping ? JSON.stringify(mapping) : ''
  const start = () => upload<JobOut>(`/api/builds/${bench.id}/logs/jobs`, file, { ...(chosen ? { mapping: chosen } : {}), ...(dbc ? { dbc } : {}) })
  const { result, problem, stop, running } = useJob<Reading>(`${bench.id}:${file.name}:${file.size}:${file.lastModified}:${chosen}:${dbc}`, start)
  const [shown, setShown] = useState<LogPreview | null>(null)
  const made = result?.preview ?? null
  if (made && made !== shown) setShown(made) // stays while another mapping is tried
  const preview = made ?? shown
  const columns: Column[] = mapping ?? preview?.sniffed?.mapping ?? []
  const assign = (name: string, column: string, unit: string) => {
    const rest = columns.filter((c) => c.name !== name)
    setMapping(column ? [...rest, { name, column, unit }] : rest)
  }
  const keep = () => send({ do: 'log', file, ...(chosen ? { mapping: chosen } : {}), ...(dbc ? { dbc } : {}) }, close)
  if (problem && !preview) {
    return (
      <Box p="4">
        <Trouble text={problem}>
          <Act onClick={close}>Close</Act>
        </Trouble>
      </Box>
    )
  }
  if (!preview) {
    return (
      <Flex direction="column" align="center" gap="3" p="4">
        <Loading what={result?.stage === 'analysing' ? `Finding the runs in ${result.rows.toLocaleString('en')} rows …` : `Reading ${file.name}, ${(file.size / 1e6).toFixed(1)} MB …`} />
        <Act
          onClick={() => {
            stop()
            close()
          }}
        >
          Stop
        </Act>
      </Flex>
    )
  }
  const r = preview.report
  const named = new Set(columns.map((c) => c.name))
  const hasPlace = named.has('lat_deg') && named.has('lon_deg') && !named.has('speed_m_s')
  return (
    <Flex direction="column" p="3" gap="3" flex="1">
      <Flex align="center" gap="3" wrap="wrap">
        <Text textStyle="title" fontSize="title" flex="1">
          {file.name}
        </Text>
        <Act tone="choice" disabled={!r || busy || running} onClick={keep}>
          Import this log
        </Act>
        <Act onClick={close}>Cancel</Act>
      </Flex>
      {(problem || preview.error) && (
        <Trouble text={problem || preview.error}>
          {preview.kind === 'candump' && <FilePick tone="choice" label="Give the DBC" name="DBC file" reads="dbc" pick={(f) => void f.text().then(setDbc)} />}
          {!r && !mapping && hasPlace && <Act onClick={() => setMapping(columns)}>Leave it out, read the positions</Act>}
        </Trouble>
      )}
      {r && (
        <>
          <Text>
            {r.launches.length} standing start{r.launches.length === 1 ? '' : 's'}, {r.rate_hz.toFixed(1)} samples a second, top speed {show(r.top_speed_m_s, 'm_s', prefs).text}, quality {r.quality}
          </Text>
          {[...r.quality_why, ...r.issues].map((t) => (
            <Text key={t} fontSize="small">
              {t}
            </Text>
          ))}
          <Box h="field">
            <Plot prefs={prefs} minH="field" label="Speed over time in this log" x={{ quantity: 's', label: 'time' }} y={{ quantity: 'm_s', label: 'speed' }} lines={[{ label: 'logged', x: r.t_s, y: r.speed_m_s, colour: paint('choice') }]} />
          </Box>
        </>
      )}
      {preview.sniffed && (
        <Flex gap="4" wrap="wrap">
          {ours.map(({ name, label, quantity }) => {
            const now = columns.find((c) => c.name === name)
            return (
              <Box key={name} minW="pick">
                <Text fontSize="small" fontWeight="500">
                  {label}
                </Text>
                <Flex gap="1">
                  <Pick label={`Column for ${label}`} value={now?.column ?? ''} options={['', ...preview.sniffed!.header]} pick={(c) => assign(name, c, now?.unit ?? '')} w="amount" />
                  <Pick label={`Unit of ${label}`} value={now?.unit ?? ''} options={['', ...unitsOf(quantity).map((u) => u.symbol)]} pick={(u) => now && assign(name, now.column, u)} w="digits" />
                </Flex>
              </Box>
            )
          })}
        </Flex>
      )}
      {preview.sniffed && (
        <Box overflowX="auto">
          <Table.Root size="sm">
            <Table.Header>
              <Table.Row bg="transparent">
                {preview.sniffed.header.map((t) => (
                  <Table.ColumnHeader key={t} color="ink-soft">
                    {t}
                  </Table.ColumnHeader>
                ))}
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {preview.sniffed.rows.slice(0, 4).map((row, i) => (
                <Table.Row key={i} bg="transparent">
                  {row.map((c, k) => (
                    <Table.Cell key={k}>{c}</Table.Cell>
                  ))}
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Box>
      )}
    </Flex>
  )
}

function Pick(props: { label: string; value: string; options: string[]; pick: (v: string) => void; w: string }) {
  return (
    <NativeSelect.Root w={props.w}>
      <NativeSelect.Field h="touch" bg="sheet" borderColor="rule-strong" aria-label={props.label} value={props.value} onChange={(e) => props.pick(e.target.value)}>
        {props.options.map((o) => (
          <option key={o} value={o}>
            {o || '–'}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
