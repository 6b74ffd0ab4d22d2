import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Drawings } from '../../api/client'
import { type Conditions, problemText, useDriveAt } from '../../api/hooks'
import { at } from '../../lib/path'
import { show } from '../../lib/units'
import { chokePaint, paint } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Plot, type PlotLine } from '../../ui/Plot'
import { Sweep } from '../../ui/Sweep'
import { Slide } from '../../ui/Slide'
import { Tabs } from '../../ui/Tabs'
import { Missing, Workbench } from '../../ui/Workbench'
import { BrakingView, HeatTable } from './Heat'
import { LabelReader, MotorSums } from './Label'
import { Reading } from './Reading'
import { StageTable } from './Stages'
import { Rewind } from './Rewind'
import { Steps } from './Steps'

export type D = NonNullable<Drawings['drive']>

/** Thrust over road speed with the ribbon that names the choke at every speed. */
export function Drive() {
  const { bench } = useWorkshop()
  const [asked, ask] = useState<Conditions>({})
  const own = bench.assessment.drawings.drive
  const other = useDriveAt(bench.id, bench.version, own ? asked : {})
  const there = other.data as D | undefined // the client library widens tuples to arrays
  const d = Object.keys(asked).length > 0 ? (there ?? own) : own
  const [each, setEach] = useState(false)
  const toggle = (
    <Act aria-pressed={each} bg={each ? 'choice-wash' : 'sheet'} onClick={() => setEach(!each)}>
      Each limit
    </Act>
  )
  return (
    <Workbench parts={['drive.controller', 'drive.motor', 'pack', 'road']} tools={d && toggle} under={<Under d={d} />}>
      {d ? (
        <Flex direction="column" flex="1" minH="inherit">
          <Envelope d={d} each={each} />
          <Sliders asked={asked} ask={ask} problem={problemText(other.error)} />
        </Flex>
      ) : (
        <Missing />
      )}
    </Workbench>
  )
}

function Envelope({ d, each }: { d: D; each: boolean }) {
  const { prefs } = useWorkshop()
  const [cursor, setCursor] = useState<number | null>(null)
  const most = Math.max(...d.thrust_n, ...d.load_n.slice(0, Math.ceil(d.load_n.length * 0.9))) * (each ? 1.45 : 1)
  const limits: PlotLine[] = each
    ? d.lines.map((l) => ({ label: l.label, x: d.speed_m_s, y: l.thrust_n, colour: chokePaint(l.choke), width: 1.5, dash: '5 3', labelAt: 0.62, quiet: true }))
    : []
  return (
    <>
      <Box flex="1" minH={{ base: 'wide', md: 'column' }}>
        <Plot
          prefs={prefs}
          label="Thrust over road speed with the choke at each speed"
          x={{ quantity: 'm_s', label: 'road speed' }}
          y={{ quantity: 'n', label: 'thrust at the tyre' }}
          most={most}
          onCursor={setCursor}
          lines={[
            ...limits,
            { label: 'road takes', x: d.speed_m_s, y: d.load_n, colour: paint('ink.soft'), dash: '7 4', labelAt: 0.55 },
            { label: 'once the cells settle', x: d.speed_m_s, y: d.held_n, colour: paint('ink'), width: 1.5, dash: '2 3', labelAt: 0.78 },
            { label: 'thrust', x: d.speed_m_s, y: d.thrust_n, colour: paint('ink'), width: 3, labelAt: 0.3 },
          ]}
          ribbon={d.ribbon}
          verticals={d.top_speed_m_s > 0 ? [{ at: d.top_speed_m_s, label: 'top speed' }] : []}
        />
      </Box>
      <Reading d={d} at={cursor} />
    </>
  )
}

const SLIDERS: { key: keyof Conditions; path: string; label: string; lo: number; hi: number; step: number; quantity: string; rest: number }[] = [
  { key: 'soc', path: 'pack.start_soc', label: 'Charge', lo: 0.05, hi: 1, step: 0.01, quantity: 'pct', rest: 1 },
  { key: 'cells_c', path: 'pack.temp_c', label: 'Cells', lo: -20, hi: 50, step: 1, quantity: 'c', rest: 25 },
  { key: 'motor_c', path: 'drive.motor.start_c', label: 'Motor', lo: 0, hi: 160, step: 2, quantity: 'c', rest: 20 },
  { key: 'grade_pct', path: 'road.grade_pct', label: 'Grade', lo: -15, hi: 40, step: 1, quantity: 'pct', rest: 0 },
  { key: 'wind_m_s', path: 'road.wind_m_s', label: 'Headwind', lo: -15, hi: 15, step: 0.5, quantity: 'm_s', rest: 0 },
]

/** Conditions that move the picture while they are dragged; nothing is kept until it is taken. */
function Sliders({ asked, ask, problem }: { asked: Conditions; ask: (c: Conditions) => void; problem: string }) {
  const { bench, prefs, send, change } = useWorkshop()
  const now = (s: (typeof SLIDERS)[number]) => asked[s.key] ?? Number(at(bench.doc, `${s.path}.amount`) ?? s.rest)
  const take = () => {
    const changes = SLIDERS.filter((s) => asked[s.key] !== undefined).map((s) => ({ path: s.path, value: { amount: asked[s.key]!, origin: 'guess', tolerance: 0 } }))
    const go = () => {
      change(changes, 'Conditions')
      ask({})
    }
    if (bench.trial) go()
    else send({ do: 'try' }, go)
  }
  return (
    <Box px="3" pb="2" borderTopWidth="hair" borderColor="rule">
      <Flex columnGap="4" wrap="wrap">
        {SLIDERS.map((s) => {
          const v = now(s)
          const text = s.key === 'soc' ? `${Math.round(v * 100)} %` : show(v, s.quantity, prefs).text
          return (
            <Box key={s.key} flex="1 1 {sizes.figure}" maxW="field">
              <Slide label={s.label} text={text} lo={s.lo} hi={s.hi} step={s.step} value={v} moved={asked[s.key] !== undefined} set={(x) => ask({ ...asked, [s.key]: x })} />
            </Box>
          )
        })}
      </Flex>
      {Object.keys(asked).length > 0 && (
        <Flex gap="2" align="center">
          <Act onClick={() => ask({})}>As the build says</Act>
          <Act tone="choice" onClick={take}>
            Take as what-if
          </Act>
        </Flex>
      )}
      {problem && <Text color="stop">{problem}</Text>}
    </Box>
  )
}

function Under({ d }: { d: D | null }) {
  return (
      <Tabs
        label="Behind the drive"
        start={d ? 'chain' : 'measure'}
        tabs={[
          ...(d
            ? [
                { key: 'sweep', label: 'Sweep', body: <Sweep /> },
                { key: 'chain', label: 'Power chain', body: <StageTable d={d} /> },
                { key: 'heat', label: 'Heat', body: <HeatTable d={d} /> },
                { key: 'regen', label: 'Motor braking', body: <BrakingView d={d} /> },
                { key: 'steps', label: 'More amps', body: <Steps /> },
              ]
            : []),
          { key: 'label', label: 'Read a label', body: <LabelReader /> },
          { key: 'rewind', label: 'Rewind', body: <Rewind /> },
          { key: 'measure', label: 'Measure the motor', body: <MotorSums /> },
        ]}
      />
  )
}
