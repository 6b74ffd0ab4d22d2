import { Box, Flex, Text } from '@chakra-ui/react'
import type { Drawings } from '../../api/client'
import { at } from '../../lib/path'
import { show } from '../../lib/units'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { Rows } from '../../ui/Rows'

type P = NonNullable<Drawings['pack']>

/** The most in parallel that goes in, at each voltage class and the pack's own count. */
export function OptionTable({ d }: { d: P }) {
  const fit = d.fitted?.options ?? []
  return (
    <>
      {!fit.length && !d.at_hand.length && <Text color="ink-soft">Measure a bay to see what goes in, or give the number of cells at hand to see what they make.</Text>}
      {fit.length > 0 && <Choices label="What goes in" first="most that goes in" options={fit} d={d} />}
      {d.at_hand.length > 0 && <Choices label="What the cells at hand make" first="of the cells at hand" options={d.at_hand} d={d} />}
    </>
  )
}

type Choice = P['at_hand'][number]

function Choices({ label, first, options, d }: { label: string; first: string; options: Choice[]; d: P }) {
  const { prefs, change } = useWorkshop()
  const volts = (v: number | null) => show(v, 'v', prefs).text
  return (
    <Rows
      label={label}
      heads={[first, 'full', 'nominal', 'empty', 'energy', 'charge', 'continuous', '']}
      strong={options.findIndex((o) => o.series === d.series)}
      rows={options.map((o) => [
        `${o.series}s${o.parallel}p`,
        volts(o.full_v),
        volts(o.nominal_v),
        volts(o.empty_v),
        show(o.energy_wh, 'wh', prefs).text,
        show(o.capacity_ah, 'ah', prefs).text,
        show(o.cont_a, 'a', prefs).text,
        o.parallel > 0 && (o.series !== d.series || o.parallel !== d.parallel) ? (
          <Act
            key="take"
            aria-label={`Take ${o.series}s${o.parallel}p`}
            onClick={() =>
              change(
                [
                  { path: 'pack.series', value: o.series },
                  { path: 'pack.parallel', value: o.parallel },
                ],
                `Took ${o.series}s${o.parallel}p`,
              )
            }
          >
            Take
          </Act>
        ) : (
          ''
        ),
      ])}
    />
  )
}

export function SagTable({ d }: { d: P }) {
  const { prefs } = useWorkshop()
  if (!d.sag.length) return <Text color="ink-soft">The cell's resistance is not known yet.</Text>
  return (
    <Rows
      label="Sag"
      heads={['charge', 'at rest', d.load_a ? `at ${show(d.load_a, 'a', prefs).text}` : 'loaded', 'after a while', 'most power']}
      rows={d.sag.map((r) => [
        `${Math.round(r.soc * 100)} %`,
        ...[r.rest_v, r.load_v, r.settled_v].map((v) => show(v, 'v', prefs).text),
        show(r.power_w, 'w', prefs).text,
      ])}
    />
  )
}

/** The runs that the goal plans, one after the other. */
export function SessionTable({ d }: { d: P }) {
  const { prefs, open } = useWorkshop()
  if (!d.session.length) {
    return (
      <Flex gap="3" align="center" wrap="wrap">
        <Text color="ink-soft">No session is planned: give the number of full-throttle runs and the rest between them.</Text>
        <Act onClick={() => open({ kind: 'part', path: 'goal' })}>Plan one</Act>
      </Flex>
    )
  }
  return (
    <Box maxW="prose">
      <Rows
        label="Session"
        heads={['run', 'time', 'at the end', 'charge left', 'cells', 'winding']}
        rows={d.session.map((r, i) => [
          String(i + 1),
          show(r.time_s, 's', prefs).text,
          show(r.end_speed_m_s, 'm_s', prefs).text,
          `${Math.round(r.soc * 100)} %`,
          show(r.pack_c, 'c', prefs).text,
          show(r.winding_c, 'c', prefs).text,
        ])}
      />
    </Box>
  )
}

interface KeptGroup {
  cells: string[]
  capacity_ah: { amount: number | null } | null
  r_ohm: { amount: number | null } | null
}

/** The groups as sorted that the pack is computed with. */
export function GroupTable() {
  const { bench, prefs, change } = useWorkshop()
  const groups = (at(bench.doc, 'pack.sorted_groups') as KeptGroup[] | undefined) ?? []
  return (
    <>
      <Flex gap="3" align="center" wrap="wrap" mb="2">
        <Text flex="1">The pack is computed with these groups: the smallest ends every discharge.</Text>
        <Act onClick={() => change([{ path: 'pack.sorted_groups', value: [] }], 'Took the sorted groups out')}>Take them out</Act>
      </Flex>
      <Rows
        label="Groups of the pack"
        heads={['group', 'capacity', 'resistance', 'cells, in order of assembly from minus']}
        left={[0, 3]}
        rows={groups.map((g, i) => [String(i + 1), show(g.capacity_ah?.amount ?? null, 'ah', prefs, 4).text, show(g.r_ohm?.amount ?? null, 'ohm', prefs).text, g.cells.join(' ')])}
      />
    </>
  )
}
