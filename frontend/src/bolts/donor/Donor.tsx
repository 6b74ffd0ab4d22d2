import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { at } from '../../lib/path'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { FilePick } from '../../ui/FilePick'
import { Tabs } from '../../ui/Tabs'
import { Missing, Workbench } from '../../ui/Workbench'
import { Candidates, Salvaged } from './Candidates'
import { SideView } from './SideView'
import { BeforeTable, ChangeTable, FrameTable, LedgerTable, RuleTable } from './Tables'

const MOST_BAYS = 3

/** Side view with the mass ledger and the bays on it; under it what was, what must change, and the
 * candidates. */
export function Donor() {
  const { bench, panel, send, open } = useWorkshop()
  const [drawing, setDrawing] = useState(false)
  const d = bench.assessment.drawings.donor
  const bays = (at(bench.doc, 'donor.bays') as unknown[]) ?? []
  const electric = at(bench.doc, 'donor.kind') === 'electric_moto'
  const opened = panel.kind === 'part' ? /^donor\.bays\.(\d+)/.exec(panel.path)?.[1] : undefined
  const into = opened === undefined ? null : Number(opened)
  const full = bays.length >= MOST_BAYS
  const parts = ['donor', ...bays.map((_, i) => `donor.bays.${i}`), ...(full ? [] : ['donor.bays.+']), 'donor.ratings', ...(electric ? ['donor.stock'] : []), 'donor.legal', 'road', 'goal']
  return (
    <Workbench
      parts={parts}
      tools={
        d && (
          <Flex gap="1" wrap="wrap">
            <Act aria-pressed={drawing} tone={drawing ? 'choice' : 'plain'} disabled={!drawing && full && into === null} onClick={() => setDrawing(!drawing)}>
              {drawing ? 'Drawing: corner by corner' : into === null ? 'Draw a bay' : `Draw bay ${into + 1} anew`}
            </Act>
            <FilePick
              label={into === null ? 'Outline from a drawing' : `Outline for bay ${into + 1}`}
              name="Outline of a bay"
              reads="outline"
              disabled={full && into === null}
              pick={(file) => send({ do: 'outline', file, bay: into })}
            />
          </Flex>
        )
      }
      under={
        d && (
          <Tabs
            label="Behind the donor"
            tabs={[
              { key: 'ledger', label: 'Mass ledger', body: <LedgerTable d={d} /> },
              { key: 'before', label: 'Before and now', body: <BeforeTable d={d} electric={electric} /> },
              { key: 'change', label: 'What must change', body: <ChangeTable d={d} /> },
              { key: 'frame', label: 'Frame and rules', body: <Flex direction="column" gap="4"><FrameTable /><RuleTable d={d} /></Flex> },
              { key: 'candidates', label: 'Candidates', body: <Candidates d={d} /> },
              { key: 'salvage', label: 'Salvaged parts', body: <Salvaged d={d} /> },
            ]}
          />
        )
      }
    >
      {d ? <SideView d={d} drawing={drawing} into={into} stop={() => setDrawing(false)} /> : <Missing />}
      {d && d.bike_kg === null && !drawing && (
        <Flex position="absolute" top="2" left="3" gap="2" align="center">
          <Text>Not weighed yet:</Text>
          <Act tone="choice" onClick={() => open({ kind: 'part', path: 'donor' })}>
            Mass as weighed
          </Act>
        </Flex>
      )}
      {drawing && (
        <Text position="absolute" top="2" left="3" bg="choice-wash" px="2" py="1" fontSize="small" role="status">
          Tap the corners in order; tap the first again, or press Enter, to close. Escape leaves it.
        </Text>
      )}
    </Workbench>
  )
}
