import { Text } from '@chakra-ui/react'
import { useLogSetup } from '../../api/traces'
import { Act } from '../../ui/atoms'
import { useWorkshop } from '../../ui/bench'
import { useMovedWords } from '../../ui/Workbench'

const SHOWN = 4

/** Under which setup the chosen log was ridden, and what is different of it now. */
export function RiddenAs({ log }: { log: string }) {
  const { bench } = useWorkshop()
  const d = useLogSetup(bench.id, log, bench.version).data
  const words = useMovedWords()
  if (!log || !d) return null
  const same = d.moved.length === 0
  return (
    <Text as="div" mt="3" fontSize="small" role="note" aria-label="Ridden as">
      {d.seq === null ? 'Nobody knows as what this log was ridden.' : same ? 'Ridden as the build stands now.' : 'Ridden before the build was changed; the prediction is that of today’s:'}
      {d.moved.slice(0, SHOWN).map((m) => (
        <Text key={m.path}>{words(m)}</Text>
      ))}
      {d.moved.length > SHOWN && <Text>and {d.moved.length - SHOWN} more</Text>}
      {!same && d.seq !== null && (
        <Act as="a" mt="1" {...{ href: `/?beside=${bench.id}&beside=${bench.id}@${d.seq}` }}>
          Beside the one that was ridden
        </Act>
      )}
      {d.written > 0 && <Text>{d.written === 1 ? 'A parameter set was' : `${d.written} parameter sets were`} written into the controller since.</Text>}
      {d.sessions.length > 0 && <Text>Of the session {d.sessions.join(', ')}.</Text>}
      {d.problem && <Text>{d.problem}</Text>}
    </Text>
  )
}
