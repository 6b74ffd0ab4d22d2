import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { problemText } from '../api/hooks'
import { entered, sentence } from '../lib/units'
import { Trouble } from './atoms'
import { useWorkshop } from './bench'

/** A field of a sum. empty: what an empty field stands for, in SI; optional: it may stay out of the sum. */
export interface SumInput {
  key: string
  label: string
  quantity: string
  symbol: string
  empty?: number
  optional?: boolean
}

/** A few numbers as people have them, asked of the program once they are all there, and what it says under them. */
export function SumForm<T>(props: {
  title: string
  how: string
  inputs: SumInput[]
  about: unknown[]
  ask: (values: Record<string, number>) => Promise<T>
  more?: ReactNode
  children: (data: T) => ReactNode
}) {
  const [texts, setTexts] = useState<Record<string, string>>({})
  const read = props.inputs.map((i) => entered(texts[i.key] ?? '', i.quantity, i.symbol))
  const values = read.map((r, i) => (r.problem ? NaN : (r.si ?? props.inputs[i]!.empty ?? null)))
  const wrong = read.find((r) => r.problem)?.problem ?? ''
  const whole = values.every((v, i) => (v === null ? props.inputs[i]!.optional : Number.isFinite(v)))
  const query = Object.fromEntries(props.inputs.flatMap(({ key }, i) => (values[i] === null ? [] : [[key, values[i] as number]])))
  const asked = whole && Object.keys(query).length > 0
  const got = useQuery({ queryKey: ['sum', props.title, ...props.about, query], enabled: !!asked, retry: 0, placeholderData: keepPreviousData, queryFn: () => props.ask(query) })
  return (
    <Box as="section" aria-label={props.title} borderBottomWidth="hair" borderColor="rule" pb="2">
      <Text fontWeight="600">{props.title}</Text>
      <Text color="ink-soft">{props.how}</Text>
      <Flex gap="2" mt="1" align="center" wrap="wrap">
        {props.inputs.map(({ key, label }, i) => (
          <Flex key={key} align="center" gap="1">
            <Input aria-label={`${props.title}, ${label}`} aria-invalid={read[i]!.problem !== ''} value={texts[key] ?? ''} onChange={(e) => setTexts({ ...texts, [key]: e.target.value })} w="digits" minH="touch" bg="sheet" inputMode="decimal" />
            <Text fontSize="small">{label}</Text>
          </Flex>
        ))}
        {props.more}
        {asked && got.data !== undefined && !got.error && props.children(got.data)}
      </Flex>
      {wrong && (
        <Text role="alert" color="stop">
          {wrong}
        </Text>
      )}
      {asked && got.error && <Trouble text={problemText(got.error)} />}
    </Box>
  )
}

/** What a sum says, in a line of its own, in the units of whoever reads it. */
export function Says({ children, bad }: { children: string; bad?: boolean }) {
  const { prefs } = useWorkshop()
  return (
    <Text role="status" w="100%" fontWeight="600" color={bad ? 'stop' : 'ink'}>
      {sentence(children, prefs)}
    </Text>
  )
}
