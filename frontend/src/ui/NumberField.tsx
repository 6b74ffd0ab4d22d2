import { Box, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { type Entered, entered } from '../lib/units'

export interface Field extends Entered {
  text: string
  set: (text: string) => void
}

/** A number that may stay empty, in a unit: kept as it was typed, read as SI. */
export function useNumber(quantity: string, symbol: string, start = ''): Field {
  const [text, set] = useState(start)
  return { text, set, ...entered(text, quantity, symbol) }
}

/** Its field, with what is wrong with it beneath. */
export function NumberField(props: { label: string; field: Field; w?: string; placeholder?: string; big?: boolean }) {
  const { text, set, problem } = props.field
  return (
    <Box>
      <Text as="label">
        {props.label}
        <Input
          aria-label={props.label}
          aria-invalid={problem !== ''}
          display="block"
          w={props.w ?? 'figure'}
          {...(props.big ? { h: 'row', fontSize: 'figure' } : {})}
          inputMode="decimal"
          placeholder={props.placeholder}
          value={text}
          onChange={(e) => set(e.target.value)}
        />
      </Text>
      {problem && (
        <Text role="alert" fontSize="small" color="stop" maxW="field">
          {problem}
        </Text>
      )}
    </Box>
  )
}
