import { Box, Flex, Table, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { at } from '../../lib/path'
import { show } from '../../lib/units'
import { paint } from '../../theme/paint'
import { Act, Nothing } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Missing, Workbench } from '../../ui/Workbench'
import { FilePick } from '../../ui/FilePick'
import { useSize } from '../../ui/useSize'
import { SortCells } from './SortCells'
import { T } from '../../ui/svgtext'

type P = NonNullable<Drawings['pack']>

export function Pack() {
  const { bench, open } = useWorkshop()
  const d = bench.assessment.drawings.pack
  const bays = ((at(bench.doc, 'donor.bays') as unknown[]) ?? []).map((_, i) => `donor.bays.${i}`)
  const [file, setFile] = useState<File | null>(null)
  return (
    <Workbench parts={['pack', 'pack.cell', ...bays]} tools={<Counts />} under={<Under d={d} pick={setFile} />}>
      {file ? (
        <SortCells file={file} close={() => setFile(null)} />
      ) : !d ? (
        <Missing />
      ) : d.bay && d.slots.length ? (
        <BayView d={d} />
      ) : (
        <Nothing title="No bay, or no cell size, to draw this pack in">
          <Text>The electrical side computes. For the fit give the inside of the bay and the size of the cell.</Text>
          <Flex gap="2">
            <Act tone="choice" onClick={() => open({ kind: 'part', path: 'donor' })}>
              Measure the bay
            </Act>
            <Act onClick={() => open({ kind: 'part', path: 'pack.cell' })}>Cell size</Act>
          </Flex>
        </Nothing>
      )}
    </Workbench>
  )
}

/** S and P, one step at a time. */
function Counts() {
  const { bench, change } = useWorkshop()
  const step = (key: 'series' | 'parallel', by: number) => {
    const now = Number(at(bench.doc, `pack.${key}`) ?? 0)
    if (now + by >= 1) change([{ path: `pack.${key}`, value: now + by }], '')
  }
  return (
    <Flex gap="3" align="center">
      {(['series', 'parallel'] as const).map((key) => (
        <Flex key={key} align="center" gap="1">
          <Act aria-label={`one fewer in ${key}`} onClick={() => step(key, -1)}>
            −
          </Act>
          <Text textStyle="digits" fontSize="26px" minW="48px" textAlign="center">
            {String(at(bench.doc, `pack.${key}`) ?? '–')}
            {key === 'series' ? 's' : 'p'}
          </Text>
          <Act aria-label={`one more in ${key}`} onClick={() => step(key, 1)}>
            +
          </Act>
        </Flex>
      ))}
    </Flex>
  )
}

/** The face of the bay to scale, filled group by group; places that stay free are open circles. */
function BayView({ d }: { d: P }) {
  const { ref, w, h } = useSize<HTMLDivElement>()
  const { prefs } = useWorkshop()
  const [fu, fv] = d.face.split('-') as [string, string]
  const bw = d.bay![fu] ?? 0.1
  const bh = d.bay![fv] ?? 0.1
  const k = Math.min((w - 110) / bw, (h - 90) / bh)
  const ox = (w - bw * k) / 2
  const oy = 46
  const front = d.slots
  const inLayer = front.length
  const used = (layer: number) => Math.max(0, Math.min(inLayer, d.needed - layer * inLayer))
  const perGroup = Math.max(1, d.needed / d.series)
  return (
    <Box ref={ref} flex="1" minH="inherit" position="relative">
      <svg width={w} height={h} role="img" aria-label={`Bay to scale: ${d.needed} bodies of ${d.capacity} places, ${d.layers} layers`} style={{ position: 'absolute', inset: 0 }}>
        <rect x={ox} y={oy} width={bw * k} height={bh * k} fill="none" stroke={paint('ink')} strokeWidth="2.5" />
        {front.map((s, i) => {
          const taken = i < used(0)
          const group = Math.floor(i / perGroup)
          const cx = ox + s.u_m * k
          const cy = oy + (bh - s.v_m) * k
          const fill = taken ? (group % 2 ? paint('well') : paint('sheet')) : 'none'
          const stroke = taken ? paint('ink') : paint('rule.strong')
          return d.round ? (
            <g key={i}>
              <circle cx={cx} cy={cy} r={(d.body_m[0]! * k) / 2} fill={fill} stroke={stroke} strokeWidth={taken ? 1.2 : 0.7} strokeDasharray={taken ? undefined : '2 2'} />
              {taken && group % 2 === 1 && <path d={`M${cx - d.body_m[0]! * k * 0.3} ${cy}h${d.body_m[0]! * k * 0.6}`} stroke={paint('ink')} strokeWidth="1" />}
              {taken && group % 2 === 0 && <circle cx={cx} cy={cy} r={d.body_m[0]! * k * 0.13} fill={paint('ink')} />}
            </g>
          ) : (
            <rect key={i} x={cx - (d.body_m[0]! * k) / 2} y={cy - (d.body_m[1]! * k) / 2} width={d.body_m[0]! * k} height={d.body_m[1]! * k} fill={fill} stroke={stroke} strokeWidth="1.4" />
          )
        })}
        <g style={{ fontSize: 14, fontWeight: 600 }} fill={paint('ink')}>
          <path d={`M${ox} ${oy + bh * k + 16}h${bw * k}m0-5v10M${ox} ${oy + bh * k + 11}v10`} stroke={paint('ink')} fill="none" />
          <T x={ox + (bw * k) / 2} y={oy + bh * k + 34} textAnchor="middle">
            {fu} {show(bw, 'm', prefs).text} inside
          </T>
          <T x={ox - 10} y={oy + (bh * k) / 2} textAnchor="end">
            {show(bh, 'm', prefs).text}
          </T>
          <T x={ox} y={oy - 14} fontSize={15}>
            {d.layers} × {inLayer} places, {d.pattern}; bodies lie along the {d.axis}
          </T>
          <T x={ox + bw * k} y={oy - 14} textAnchor="end" fontSize={15} fill={d.needed > d.capacity ? paint('stop') : paint('ink')}>
            {d.needed} of {d.capacity}
          </T>
        </g>
        <g style={{ fontSize: 13 }} fill={paint('ink.soft')}>
          {Array.from({ length: d.layers }, (_, i) => (
            <T key={i} x={ox + bw * k + 12} y={oy + 14 + i * 17}>
              layer {i + 1}: {used(i)}
            </T>
          ))}
        </g>
      </svg>
    </Box>
  )
}

/** Templates to print, cells to sort, and the sag table. */
function Under({ d, pick }: { d: P | null; pick: (file: File) => void }) {
  const { bench } = useWorkshop()
  const printable = !!d?.slots.length
  const link = (query: string) => (printable ? `/api/builds/${bench.id}/template?${query}` : undefined)
  return (
    <>
      <Flex gap="2" wrap="wrap" align="center">
        <FilePick tone="choice" label="Sort measured cells" name="Cell measurements" accept=".csv,.txt" pick={pick} />
        <Text color="ink-soft">Full-size template:</Text>
        {[
          ['PDF, A4', 'kind=pdf&paper=a4'],
          ['PDF, Letter', 'kind=pdf&paper=letter'],
          ['SVG', 'kind=svg'],
          ['DXF', 'kind=dxf'],
        ].map(([label, query]) => (
          <Act key={label} asChild disabled={!printable}>
            <a href={link(query!)} download>
              {label}
            </a>
          </Act>
        ))}
      </Flex>
      {d && <Sag d={d} />}
    </>
  )
}

function Sag({ d }: { d: P }) {
  const { prefs } = useWorkshop()
  if (!d.sag.length) return null
  return (
    <Box pb="2" overflowX="auto" tabIndex={0} role="region" aria-label="Sag">
      <Table.Root size="sm" maxW="640px">
        <Table.Header>
          <Table.Row bg="transparent">
            {['charge', 'at rest', d.load_a ? `at ${show(d.load_a, 'a', prefs).text}` : 'loaded', 'after a while', 'most power'].map((t) => (
              <Table.ColumnHeader key={t} textAlign="end" color="ink-soft">
                {t}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {d.sag.map((r) => (
            <Table.Row key={r.soc} bg="transparent">
              <Table.Cell textAlign="end" fontWeight="600">
                {Math.round(r.soc * 100)} %
              </Table.Cell>
              {[r.rest_v, r.load_v, r.settled_v].map((v, i) => (
                <Table.Cell key={i} textAlign="end">
                  {show(v, 'v', prefs).text}
                </Table.Cell>
              ))}
              <Table.Cell textAlign="end">{show(r.power_w, 'w', prefs).text}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
