import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { problemText } from '../../api/hooks'
import { type Axis, type Section, useBetween } from '../../api/traces'
import { parseQuantity, show, type UnitPrefs, usualUnit } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { Rows } from '../../ui/Rows'

/** Times inside a log that need no standing start: from one speed to another, and between two marks of the way. */
export function Between(props: { build: string; log: string; axis: Axis; span: [number, number] | null; prefs: UnitPrefs }) {
  const call = useBetween(props.build, props.log)
  const [low, setLow] = useState('30')
  const [high, setHigh] = useState('60')
  const [asked, setAsked] = useState('')
  const unit = usualUnit('m_s', null, props.prefs)
  const [from, to] = [parseQuantity(low, 'm_s', unit), parseQuantity(high, 'm_s', unit)]
  const rollOn = () => {
    if (!from.ok || !to.ok) return
    setAsked(`from ${show(from.si, 'm_s', props.prefs).text} to ${show(to.si, 'm_s', props.prefs).text}`)
    call.mutate({ low: from.si, high: to.si })
  }
  const marks = () => {
    setAsked('between the ends of the window')
    call.mutate({ axis: props.axis, start: props.span![0], end: props.span![1] })
  }
  return (
    <Box mt="4">
      <Flex gap="2" align="center" wrap="wrap">
        <Text>Roll-on from</Text>
        <Input aria-label="Roll-on from" w="digits" inputMode="decimal" value={low} onChange={(e) => setLow(e.target.value)} />
        <Text>to</Text>
        <Input aria-label="Roll-on to" w="digits" inputMode="decimal" value={high} onChange={(e) => setHigh(e.target.value)} />
        <Text>{unit.symbol}</Text>
        <Act disabled={!from.ok || !to.ok || call.isPending} onClick={rollOn}>
          Find each
        </Act>
        <Act disabled={!props.span || call.isPending} onClick={marks}>
          Between the window&apos;s ends, each pass
        </Act>
        {!props.span && (
          <Text fontSize="small" color="ink-soft">
            Zoom in first: the ends of what is shown are the two marks.
          </Text>
        )}
      </Flex>
      {call.error && <Trouble text={problemText(call.error)} />}
      {call.data && <Found rows={call.data} asked={asked} prefs={props.prefs} />}
    </Box>
  )
}

function Found({ rows, asked, prefs }: { rows: Section[]; asked: string; prefs: UnitPrefs }) {
  if (!rows.length) return <Text role="status">None in this log {asked}.</Text>
  const best = Math.min(...rows.map((r) => r.seconds))
  return (
    <Rows
      label={`Times ${asked}`}
      heads={['in the log at', `time ${asked}`, '± 95 %', 'speed in', 'speed out', '']}
      left={[5]}
      rows={rows.map((r) => [
        show(r.start_s, 's', prefs).text,
        show(r.seconds, 's', prefs, 4).text,
        r.u95_s === null ? 'not known' : show(r.u95_s, 's', prefs, 2).text,
        show(r.in_m_s, 'm_s', prefs).text,
        show(r.out_m_s, 'm_s', prefs).text,
        r.seconds === best && rows.length > 1 ? '◂ least' : '',
      ])}
    />
  )
}
