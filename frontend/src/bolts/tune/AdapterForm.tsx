import { Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { type Adapter, optionsIn, optionsOut, useControllerKinds } from '../../api/link'
import { Trouble } from '../../ui/atoms'
import { NamePick } from '../../ui/NamePick'
import { Mapping } from './Mapping'

/** The adapter as it is typed; null while it cannot be used, with why. */
export function useAdapterForm(start: Adapter) {
  const [typed, setTyped] = useState({ ...start, bitrate: String(start.bitrate), node: String(start.node), more: optionsOut(start.more) })
  const [bitrate, node, more] = [whole(typed.bitrate), whole(typed.node), optionsIn(typed.more)]
  const problem =
    bitrate === null || bitrate < 10_000 || bitrate > 1_000_000
      ? 'Bits a second: a whole number from 10000 to 1000000, such as 250000.'
      : node === null || node < 1 || node > 127
        ? "Node: the controller's number on the bus, 1 to 127 (or 0x01 to 0x7F)."
        : more === null
          ? 'More options: name=value, with blanks between, such as host=127.0.0.1 port=29536.'
          : ''
  const adapter: Adapter | null = problem ? null : { ...typed, bitrate: bitrate!, node: node!, more: more! }
  return { typed, change: (part: Partial<typeof typed>) => setTyped({ ...typed, ...part }), adapter, problem }
}

const whole = (text: string) => (/^(\d+|0x[0-9a-f]+)$/i.test(text.trim()) ? Number(text) : null)

/** How the bus is reached, in the CAN library's words. */
export function AdapterForm({ form }: { form: ReturnType<typeof useAdapterForm> }) {
  const kinds = useControllerKinds().data ?? []
  const { typed, change, problem } = form
  return (
    <>
      <Flex gap="2" mt="2" wrap="wrap" align="end">
        {(
          [
            ['interface', 'Interface', 'amount'],
            ['channel', 'Channel', 'field'],
            ['bitrate', 'Bits a second', 'figure'],
            ['node', 'Node', 'digits'],
            ['more', 'More options', 'field'],
          ] as const
        ).map(([key, label, w]) => (
          <Text key={key} as="label" display="grid">
            {label}
            <Input value={typed[key] ?? ''} onChange={(e) => change({ [key]: e.target.value })} w={w} placeholder={key === 'more' ? 'name=value …' : undefined} autoCapitalize="off" spellCheck={false} />
          </Text>
        ))}
        <Text as="label" display="grid">
          Kind of controller
          <NamePick label="Kind of controller" rows={kinds.map((k) => ({ id: k.key, name: k.name }))} value={typed.profile ?? ''} pick={(profile) => change({ profile })} w="pick" />
        </Text>
        <Mapping />
      </Flex>
      {problem && <Trouble text={problem} />}
    </>
  )
}
