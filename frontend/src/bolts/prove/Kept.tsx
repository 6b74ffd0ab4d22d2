import { Text } from '@chakra-ui/react'
import type { SessionView } from '../../api/prove'
import type { useTaps } from '../../api/taps'
import type { Tap } from '../../lib/kept'
import { show } from '../../lib/units'
import { Act, Trouble } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'

type Taps = ReturnType<typeof useTaps>

function Waiting({ what }: { what: string }) {
  return (
    <Text role="status" fontWeight="600" color="choice">
      {what} kept here, not sent yet. Sent when the connection is back.
    </Text>
  )
}

function Refused({ tap, what, taps }: { tap: Tap; what: string; taps: Taps }) {
  return (
    <Trouble text={`Kept here, not taken: ${what}. ${tap.refused}`}>
      <Act onClick={() => taps.again(tap.key)}>Try again</Act>
      <Act tone="ghost" onClick={() => taps.letGo(tap.key)}>
        Let it go
      </Act>
    </Trouble>
  )
}

/** Runs that were tapped and are not in a session yet: they wait for the connection, or were not taken and why. */
export function KeptRuns({ taps, sessions }: { taps: Taps; sessions: SessionView[] }) {
  const { prefs } = useWorkshop()
  return (
    <>
      {taps.waiting > 0 && <Waiting what={taps.waiting === 1 ? '1 run is' : `${taps.waiting} runs are`} />}
      {taps.refused.map((t) => {
        const of = sessions.find((s) => s.id === t.session)
        const value = Number(t.body.value)
        const words = [t.body.setup, of ? show(value, of.quantity, prefs, 4).text : value, t.body.note].filter(Boolean).join(', ')
        return <Refused key={t.key} tap={t} what={words} taps={taps} />
      })}
    </>
  )
}

/** An entry of a gate that is not in the build yet. */
export function KeptGate({ taps, gate, quantity }: { taps: Taps; gate: string; quantity: string }) {
  const { prefs } = useWorkshop()
  const tap = taps.gates.find((t) => t.body.gate === gate)
  if (!tap) return null
  const { value, passed } = tap.body as { value: number | null; passed: boolean | null }
  const what = value !== null ? show(value, quantity, prefs, 4).text : passed ? 'it is so' : passed === false ? 'it failed' : 'cleared'
  return tap.refused ? <Refused tap={tap} what={what} taps={taps} /> : <Waiting what={`"${what}" is`} />
}
