import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { at } from '../../lib/path'
import { Act, Nothing } from '../../ui/atoms'
import { AddPart } from '../../ui/PartEditor'
import { useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { Tabs } from '../../ui/Tabs'
import { Missing, Workbench } from '../../ui/Workbench'
import { Assembly } from './Assembly'
import { BayView } from './BayView'
import { Checks } from './Checks'
import { SortCells } from './SortCells'
import { GroupTable, OptionTable, SagTable, SessionTable } from './Tables'

type P = NonNullable<Drawings['pack']>

export function Pack() {
  const { bench, open } = useWorkshop()
  const d = bench.assessment.drawings.pack
  const bays = ((at(bench.doc, 'donor.bays') as unknown[]) ?? []).map((_, i) => `donor.bays.${i}`)
  const [file, setFile] = useState<File | null>(null)
  const parts = ['pack', 'pack.cell', 'pack.strips', ...bays, 'pack.other', 'pack.stand_in']
  return (
    <Workbench parts={parts} tools={<Counts />} under={<Under d={d} pick={setFile} />}>
      {file ? (
        <SortCells file={file} close={() => setFile(null)} />
      ) : !d ? (
        <Missing />
      ) : d.fitted ? (
        <BayView fit={d.fitted} />
      ) : (
        <Nothing title="No bay, or no cell size, to draw this pack in">
          <Text>The electrical side computes. For the fit give the inside of the bay and the size of the cell.</Text>
          <Flex gap="2">
            {bays[0] ? (
              <Act tone="choice" onClick={() => open({ kind: 'part', path: bays[0]! })}>
                Measure the bay
              </Act>
            ) : (
              <AddPart list="donor.bays" tone="choice" />
            )}
            <Act onClick={() => open({ kind: 'part', path: 'pack.cell' })}>Cell size</Act>
          </Flex>
        </Nothing>
      )}
    </Workbench>
  )
}

/** S and P, one step at a time; a module counts as what is inside it. */
function Counts() {
  const { bench, change } = useWorkshop()
  const size = { series: Number(at(bench.doc, 'pack.cell.inner_series') ?? 1), parallel: Number(at(bench.doc, 'pack.cell.inner_parallel') ?? 1) }
  const step = (key: 'series' | 'parallel', by: number) => {
    const more = (doc: unknown) => Number(at(doc, `pack.${key}`) ?? 0) + by * size[key]
    if (more(bench.doc) >= 1) change((now) => [{ path: `pack.${key}`, value: Math.max(more(now), 1) }], '')
  }
  return (
    <Flex gap="3" align="center">
      {(['series', 'parallel'] as const).map((key) => (
        <Flex key={key} align="center" gap="1">
          <Act aria-label={`one fewer in ${key}`} onClick={() => step(key, -1)}>
            −
          </Act>
          <Text textStyle="digits" fontSize="figure" minW="touch" textAlign="center">
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

/** Templates to print, cells to sort, and what lies behind the layout. */
function Under({ d, pick }: { d: P | null; pick: (file: File) => void }) {
  const { bench } = useWorkshop()
  const printable = !!d?.fitted
  const link = (query: string) => (printable ? `/api/builds/${bench.id}/template?${query}` : undefined)
  return (
    <>
      <Flex gap="2" wrap="wrap" align="center">
        <FilePick tone="choice" label="Sort measured cells" name="Cell measurements" reads="cells" pick={pick} />
        <Text color="ink-soft">Full size to print:</Text>
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
      <Tabs
        label="Behind the pack"
          tabs={[
            ...(d
              ? [
                  { key: 'options', label: 'What goes in', body: <OptionTable d={d} /> },
                  { key: 'sag', label: 'Sag and power', body: <SagTable d={d} /> },
                  { key: 'session', label: 'Session', body: <SessionTable d={d} /> },
                ]
              : []),
            ...(((at(bench.doc, 'pack.sorted_groups') as unknown[]) ?? []).length ? [{ key: 'groups', label: 'Groups', body: <GroupTable /> }] : []),
            ...(d?.assembly ? [{ key: 'assembly', label: 'Assembly', body: <Assembly d={d.assembly} /> }] : []),
            { key: 'checks', label: 'Checks and sums', body: <Checks d={d} /> },
        ]}
      />
    </>
  )
}
