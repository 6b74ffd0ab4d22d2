import { Checkbox } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** A statement that a person makes, large enough for a glove. */
export function Tick(props: { checked: boolean; set: (on: boolean) => void; children: ReactNode }) {
  return (
    <Checkbox.Root checked={props.checked} onCheckedChange={(e) => props.set(e.checked === true)} minH="touch" gap="2">
      <Checkbox.HiddenInput />
      <Checkbox.Control w="glyph" h="glyph" borderColor="rule-strong" bg="sheet" color="choice" />
      <Checkbox.Label fontSize="lead">{props.children}</Checkbox.Label>
    </Checkbox.Root>
  )
}
