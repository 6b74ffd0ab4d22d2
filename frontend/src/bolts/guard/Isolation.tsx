import { Box, Flex, Text } from '@chakra-ui/react'
import { at, type ValueDoc } from '../../lib/path'
import { show } from '../../lib/units'
import { Severity } from '../../ui/atoms'
import { fieldsAt, useWorkshop } from '../../ui/bench'
import { ValueField } from '../../ui/ValueField'
import type { G } from './Guard'

const PATH = 'guard.isolation'
const STEPS: { name: string; title: string; say: string }[] = [
  { name: 'pack_v', title: 'Pack voltage', say: 'Contactor closed, controller on, bike on its stand. Meter of 10 MΩ or more, probes with insulated tips.' },
  { name: 'minus_v', title: 'Minus pole to frame', say: 'Bare metal of the frame, not paint. One hand; the other in the pocket.' },
  { name: 'plus_v', title: 'Plus pole to frame', say: 'The same with the plus pole. Both readings together should not exceed the pack voltage by much.' },
  { name: 'known_ohm', title: 'Known resistor', say: 'About 500 Ω for each volt of pack, of a power and voltage rating that suits. Measure it first.' },
  { name: 'loaded_v', title: 'The larger reading again, with the resistor across it', say: 'Clip the resistor between that pole and the frame with the power off, then on, read, off again.' },
]
const MIN_OHM_PER_V = 100

/** The two-reading voltmeter method, step by step, with the result beside the published minimum. */
export function Isolation({ d }: { d: G }) {
  const { bench, fields, change, prefs } = useWorkshop()
  const doc = (at(bench.doc, PATH) as Record<string, ValueDoc | null>) ?? {}
  const specs = fieldsAt(fields, PATH)
  const next = STEPS.find((s) => doc[s.name]?.amount == null)
  const amount = (name: string) => doc[name]?.amount ?? null
  const larger = amount('minus_v') !== null && amount('plus_v') !== null ? (amount('minus_v')! > amount('plus_v')! ? 'minus' : 'plus') : null
  return (
    <Flex gap="6" wrap="wrap">
      <Box flex="1 1 {sizes.panel}" maxW="prose">
        <Flex gap="2" mb="2" color="caution" align="flex-start">
          <Severity kind="caution" />
          <Text>Pack voltage lies at your probe tips: over 60 V it can kill. Someone within call, dry hands, no jewellery. If you have not done this before, let someone licensed do it.</Text>
        </Flex>
        <Box as="ol" listStyleType="none" aria-label="Isolation, step by step">
        {STEPS.map((s, i) => {
          const spec = specs.find((f) => f.name === s.name)
          return (
            <Box as="li" key={s.name} px="2" py="1" bg={s === next ? 'choice-wash' : 'transparent'} borderBottomWidth="hair" borderColor="rule">
              <Text fontWeight="600">
                {i + 1}. {s.title}
                {s.name === 'loaded_v' && larger ? `: the ${larger} pole` : ''}
              </Text>
              <Text fontSize="small">{s.say}</Text>
              {spec && <ValueField field={spec} value={doc[s.name] ?? null} prefs={prefs} set={(next) =>
                    change((now) => {
                      const v = next(at(now, `${PATH}.${s.name}`) as ValueDoc | null)
                      return [{ path: `${PATH}.${s.name}`, value: v && { ...v, origin: 'measured' } }]
                    }, '')
                  } />}
            </Box>
          )
        })}
        </Box>
      </Box>
      <Box flex="1 1 {sizes.field}" role="status">
        <Text textStyle="label">Isolation</Text>
        <Text textStyle="digits" fontSize="huge" color={d.isolation !== null && d.isolation < MIN_OHM_PER_V ? 'stop' : 'ink'}>
          {d.isolation === null ? '–' : `${Math.round(d.isolation)} Ω/V`}
        </Text>
        <Text>at least {MIN_OHM_PER_V} Ω/V for direct current (UN R100 / R136, ISO 6469-3)</Text>
        {d.isolation !== null && d.full_v !== null && <Text>{show(d.isolation * (amount('pack_v') ?? d.full_v), 'ohm', prefs).text} from the weaker pole to the frame.</Text>}
        {next && <Text color="choice" fontWeight="600">Next: {next.title.toLowerCase()}.</Text>}
      </Box>
    </Flex>
  )
}
