import { Flex, Slider, Text } from '@chakra-ui/react'

/** A value on a slider, its words beside its name. big: for a hand in a glove. */
export function Slide(props: { label: string; name?: string; text: string; lo: number; hi: number; step: number; value: number; set: (v: number) => void; end?: () => void; moved?: boolean; big?: boolean }) {
  const { big } = props
  return (
    <Slider.Root aria-label={[props.name ?? props.label]} min={props.lo} max={props.hi} step={props.step} value={[Math.min(Math.max(props.value, props.lo), props.hi)]} getAriaValueText={() => props.text} onValueChange={(e) => props.set(e.value[0]!)} onValueChangeEnd={props.end}>
      <Flex justify="space-between">
        <Slider.Label fontSize={big ? 'body' : undefined}>{props.label}</Slider.Label>
        <Text textStyle="digits" fontSize={big ? 'title' : undefined} color={big ? 'ink' : props.moved ? 'choice' : 'ink-soft'}>
          {props.text}
        </Text>
      </Flex>
      <Slider.Control minH="touch">
        <Slider.Track h={big ? 'dot' : undefined} bg={big ? 'well' : 'rule'}>
          <Slider.Range bg="choice" />
        </Slider.Track>
        <Slider.Thumb index={0} boxSize={big ? '8' : '6'} borderColor="choice" bg="sheet" />
      </Slider.Control>
    </Slider.Root>
  )
}
