import { Box, Flex, Text } from '@chakra-ui/react'
import { at } from '../../lib/path'
import { percentChange, sentence, show, signOf } from '../../lib/units'
import { chokeWord } from '../../theme/paint'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'
import { useLines } from '../../ui/useLines'
import type { D } from './SideView'

const signed = (text: string, x: number) => signOf(x) + text.replace('-', '')

/** Every line with its place and where its mass comes from; the scale beside it. */
export function LedgerTable({ d }: { d: D }) {
  const { prefs, open } = useWorkshop()
  const lines = useLines('donor.items', 'Line', 'Added a ledger line')
  const m = (x: number) => show(x, 'm', prefs).text
  const scale = d.scale ? d.scale[0]! + d.scale[1]! : null
  return (
    <Box>
      <Rows
        label="Mass ledger"
        heads={['line', 'mass', 'forward of the rear axle', 'above the ground', 'from', '']}
        left={[0, 4]}
        rows={[
          ['Donor as weighed', show(d.donor_kg, 'kg', prefs).text, m(d.donor_cg[0]!), m(d.donor_cg[1]!), '', <Open key="o" label="the donor" go={() => open({ kind: 'part', path: 'donor' })} />],
          ...d.rows.map((r) => [
            r.label,
            signed(show(r.kg, 'kg', prefs).text, r.kg),
            m(r.x_m) + (r.placed ? '' : ' ?'),
            m(r.y_m) + (r.placed ? '' : ' ?'),
            r.origin,
            <Open key="o" label={r.label} go={() => open({ kind: 'part', path: r.path })} />,
          ]),
          ['Bike without rider', show(d.bike_kg, 'kg', prefs).text, d.bike_cg ? m(d.bike_cg[0]!) : '–', d.bike_cg ? m(d.bike_cg[1]!) : '–', 'sum', ''],
          ['On the scale', show(scale, 'kg', prefs).text, scale ? m((d.scale![0]! * d.wheelbase_m) / scale) : '–', '', scale ? 'measured' : 'not weighed', scale && d.bike_kg ? signed(show(scale - d.bike_kg, 'kg', prefs).text, scale - d.bike_kg) : ''],
        ]}
      />
      <Flex gap="2" mt="2">
        <Act onClick={() => lines.add()}>Add a line</Act>
        <Act onClick={() => open({ kind: 'part', path: 'donor' })}>Weigh the axles</Act>
      </Flex>
    </Box>
  )
}

function Open({ label, go }: { label: string; go: () => void }) {
  return (
    <Act px="2" aria-label={`Open ${label}`} onClick={go}>
      open
    </Act>
  )
}

/** What it did before, computed and measured, and what the build does now. */
export function BeforeTable({ d, electric }: { d: D; electric: boolean }) {
  const { prefs, open } = useWorkshop()
  if (!d.before_after.length) {
    return (
      <Flex gap="3" align="center" wrap="wrap">
        <Text color="ink-soft">{electric ? 'Describe the stock pack, controller, motor and gearing, or what was measured before: every upgrade is then measured from something.' : 'Only an electric donor has a stock drive to compute.'}</Text>
        {electric && <Act onClick={() => open({ kind: 'part', path: 'donor.stock' })}>As it left the maker</Act>}
      </Flex>
    )
  }
  return (
    <Flex gap="6" wrap="wrap">
      <Box flex="1 1 {sizes.panel}">
        <Rows
          label="Before and now"
          heads={['', 'stock, computed', 'measured before', 'this build', 'change']}
          rows={d.before_after.map((r) => [r.label, show(r.stock, r.quantity, prefs).text, show(r.measured, r.quantity, prefs).text, show(r.now, r.quantity, prefs).text, percentChange(r.change)])}
        />
        <Text fontSize="note" color="ink-soft">
          Percentages are of what was measured before, else of what was computed.
        </Text>
      </Box>
      {d.limits.length > 0 && (
        <Box flex="1 1 {sizes.wide}">
          <Rows
            label="What limits the stock bike"
            heads={['what limits the stock bike', 'amps', 'power', 'link']}
            strong={0}
            rows={d.limits.map((l) => [l.label, show(l.amps, 'a', prefs).text, show(l.power_w, 'w', prefs).text, chokeWord(l.choke)])}
          />
        </Box>
      )}
    </Flex>
  )
}

/** The running gear against the planned load, what comes before riding first. */
export function ChangeTable({ d }: { d: D }) {
  const { prefs, open } = useWorkshop()
  return (
    <Box>
      <Rows
        label="What must change"
        heads={['part', 'times what it was made for', 'verdict', 'why']}
        left={[0, 2, 3]}
        rows={d.must_change.map((m) => [m.what, m.ratio === null ? '–' : m.ratio.toFixed(2), <b key="v">{m.verdict}</b>, sentence(m.reason, prefs)])}
      />
      <Act mt="2" onClick={() => open({ kind: 'part', path: 'donor.ratings' })}>
        What it was made for
      </Act>
    </Box>
  )
}

/** Cuts, welds and holes. */
export function FrameTable() {
  const { bench } = useWorkshop()
  const lines = useLines('donor.frame_changes', 'Change', 'Recorded a frame change')
  const rows = (at(bench.doc, 'donor.frame_changes') as Record<string, unknown>[]) ?? []
  const say = (v: unknown) => (v === null || v === undefined ? 'unknown' : v ? 'yes' : 'no')
  return (
    <Box>
      <Rows
        label="Frame changes"
        heads={['change to the frame', 'kind', 'where', 'done on', 'bears load', 'inspected', '']}
        left={[0, 1, 2, 3, 4, 5]}
        rows={rows.map((r, i) => [
          String(r.name ?? ''),
          String(r.kind ?? '').replace('_', '-'),
          String(r.place ?? ''),
          String(r.done_on ?? ''),
          say(r.bears_load),
          say(r.inspected),
          <Open key="o" label={String(r.name)} go={() => lines.open(i)} />,
        ])}
      />
      <Act mt="2" onClick={() => lines.add()}>
        Record a change
      </Act>
    </Box>
  )
}

/** The rules as the builder found them, against the build: questions, never answers. */
export function RuleTable({ d }: { d: D }) {
  const { prefs, open } = useWorkshop()
  return (
    <Box>
      <Rows
        label="Questions for the authority"
        heads={['question for the authority', 'rule as looked up', 'this build', '']}
        left={[0, 1, 2, 3]}
        rows={d.questions.map((x) => [x.about, sentence(x.rule, prefs), sentence(x.build, prefs), x.open ? <b key="ask">ask</b> : 'within what was looked up'])}
      />
      <Text fontSize="note" color="ink-soft">
        Only the authority where it will be ridden can say what is allowed. Write down where and when you looked.
      </Text>
      <Act mt="2" onClick={() => open({ kind: 'part', path: 'donor.legal' })}>
        Rules as looked up
      </Act>
    </Box>
  )
}
