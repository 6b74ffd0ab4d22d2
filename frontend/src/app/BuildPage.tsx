import { Box, Flex, Text } from '@chakra-ui/react'
import { type ComponentType, lazy, memo, Suspense, useEffect } from 'react'
import { useNavigate, useOutletContext, useParams } from 'react-router'
import { problemText, useBand, useBenchQuery, useFields, useStanding, useVisit, useWatch } from '../api/hooks'
import { BOLTS, type Bolt } from '../lib/nine'
import { Act, Loading, Noted, Trouble } from '../ui/atoms'
import { Afterwards, useWorkshop, WorkshopProvider } from '../ui/bench'
import { Mishap } from '../ui/Mishap'
import { Rail } from '../ui/Rail'
import { Strip } from '../ui/Strip'
import { BrokenMark } from '../ui/Workbench'
import type { ShellApi } from './Shell'

const BENCHES: Record<Bolt, ComponentType> = {
  donor: lazy(() => import('../bolts/donor/Donor').then((m) => ({ default: m.Donor }))),
  goal: lazy(() => import('../bolts/goal/Goal').then((m) => ({ default: m.Goal }))),
  pack: lazy(() => import('../bolts/pack/Pack').then((m) => ({ default: m.Pack }))),
  guard: lazy(() => import('../bolts/guard/Guard').then((m) => ({ default: m.Guard }))),
  drive: lazy(() => import('../bolts/drive/Drive').then((m) => ({ default: m.Drive }))),
  gear: lazy(() => import('../bolts/gear/Gear').then((m) => ({ default: m.Gear }))),
  wire: lazy(() => import('../bolts/wire/Wire').then((m) => ({ default: m.Wire }))),
  tune: lazy(() => import('../bolts/tune/Tune').then((m) => ({ default: m.Tune }))),
  prove: lazy(() => import('../bolts/prove/Prove').then((m) => ({ default: m.Prove }))),
}

export function BuildPage() {
  const { id = '', bolt: named } = useParams()
  const bolt = (BOLTS as readonly string[]).includes(named ?? '') ? (named as Bolt) : 'donor'
  const { prefs } = useOutletContext<ShellApi>()
  const query = useBenchQuery(id, bolt)
  const fields = useFields() // what the parts are called
  useVisit(id, bolt)
  const navigate = useNavigate()
  const [wrong, lacking] = [useStanding(query), useStanding(fields)]
  if (wrong || lacking) {
    return (
      <Box p="6" as="main">
        <Trouble text={problemText(wrong ?? lacking)}>
          <Act onClick={() => void (wrong ? query : fields).refetch()}>Try again</Act>
          <Act onClick={() => navigate('/')}>Garage</Act>
        </Trouble>
      </Box>
    )
  }
  if (!query.data || !fields.data) return <Loading what="Opening the build …" />
  return (
    <WorkshopProvider bench={query.data} bolt={bolt} prefs={prefs}>
      <Inside ready={!query.isPlaceholderData} />
    </WorkshopProvider>
  )
}

function Inside({ ready }: { ready: boolean }) {
  const { bench, bolt, prefs, send, open, problem, clearProblem } = useWorkshop()
  const { register, help, units } = useOutletContext<ShellApi>()
  const navigate = useNavigate()
  const band = useBand(bench.id, bench.version)
  const { elsewhere, silent } = useWatch(bench.id, bench.version)
  useEffect(() => {
    document.title = `${bench.name} – Nine Bolt`
    register({
      go: (b) => navigate(`/build/${bench.id}/${b}`),
      tryIt: () => send({ do: 'try' }),
      keep: () => send({ do: 'keep' }),
      drop: () => send({ do: 'drop' }),
      back: () => send({ do: 'back' }),
      undo: () => send({ do: 'undo' }),
      redo: () => send({ do: 'redo' }),
      close: () => open({ kind: 'findings' }),
      onTrial: bench.trial !== null,
      dropped: bench.dropped !== null,
      canUndo: bench.can_undo,
      canRedo: bench.can_redo,
    })
  }, [bench, register, navigate, send, open])
  return (
    <Flex direction={{ base: 'column', md: 'row' }} h={{ base: 'auto', md: '100dvh' }} pb={{ base: '20', md: '0' }}>
      <Rail reports={bench.assessment.bolts} current={bolt} go={(b) => navigate(`/build/${bench.id}/${b}`)} />
      <Flex as="main" direction="column" flex="1" minW="0" minH="0">
        <Box
          as="header"
          borderBottomWidth="hair"
          borderColor="rule"
          bg={bench.trial ? 'choice-wash' : 'sheet'}
          px={{ base: '2', md: '3' }}
          py="1"
          position={{ base: 'sticky', md: 'static' }}
          top="0"
          zIndex="9"
        >
          <Flex align="center" gap="2" wrap="wrap">
            <Act tone="ghost" onClick={() => navigate('/')} px="2">
              ‹ Garage
            </Act>
            <Text textStyle="title" fontSize="title" flex="1" minW="digits" truncate>
              {bench.name}
            </Text>
            <TrialButtons />
            <Act tone="ghost" px="2" onClick={() => open({ kind: 'history' })} display={{ base: 'none', sm: 'inline-flex' }}>
              Changes
            </Act>
            <Act tone="ghost" px="2" onClick={units} display={{ base: 'none', sm: 'inline-flex' }}>
              Units
            </Act>
            <Act tone="ghost" px="2" onClick={help} title="Shortcuts" display={{ base: 'none', sm: 'inline-flex' }}>
              ?
            </Act>
          </Flex>
          <Strip headline={bench.assessment.headline} before={bench.before} band={band.data} prefs={prefs} open={() => open({ kind: 'sure' })} openChoke={() => open({ kind: 'choke' })} />
          {problem && (
            <Trouble text={problem}>
              <Act onClick={clearProblem}>Close</Act>
            </Trouble>
          )}
          {silent && !problem && (
            <Box role="status">
              <Noted kind="caution" strong>
                Nothing answers. What you see is as it was, and a change is not taken; runs and gates that you enter in Prove wait in this browser.
              </Noted>
            </Box>
          )}
        </Box>
        {elsewhere && (
          <Text role="status" px="3" py="1" bg="choice-wash">
            Changed in another window; this is the newer state.
          </Text>
        )}
        <BrokenMark />
        <Suspense fallback={<Loading what="Clearing the bench …" />}>
          {ready ? (
            <Afterwards>
              <Mishap key={bolt}>
                <Shown bolt={bolt} />
              </Mishap>
            </Afterwards>
          ) : (
            <Loading what="Clearing the bench …" />
          )}
        </Suspense>
      </Flex>
    </Flex>
  )
}

/** Drawn anew by what it reads, not by what stands around it. */
const Shown = memo(function Shown({ bolt }: { bolt: Bolt }) {
  const Bench = BENCHES[bolt]
  return <Bench key={bolt} />
})

/** What-if: one press to start, one to keep or drop. */
function TrialButtons() {
  const { bench, send, busy } = useWorkshop()
  if (bench.trial === null) {
    const just = bench.dropped?.seq === bench.seq ? bench.dropped : null
    return (
      <>
        {just && (
          <Act px="2" display={{ base: 'none', md: 'inline-flex' }} disabled={busy} onClick={() => send({ do: 'back' })}>
            Take the what-if back ({just.changes})
          </Act>
        )}
        <Act px="2" disabled={!bench.can_undo || busy} onClick={() => send({ do: 'undo' })} aria-label="Undo the last kept change">
          Undo
        </Act>
        <Act px="3" disabled={busy} onClick={() => send({ do: 'try' })}>
          What if …
        </Act>
      </>
    )
  }
  return (
    <>
      <Text fontWeight="600" color="choice" display={{ base: 'none', sm: 'block' }}>
        What if: {bench.trial.length} on trial
      </Text>
      <Act asChild display={{ base: 'none', md: 'inline-flex' }}>
        <a href={`/?beside=${bench.id}&beside=${bench.id}@kept`}>Beside what is kept</a>
      </Act>
      <Act tone="choice" disabled={busy} onClick={() => send({ do: 'keep' })}>
        Keep
      </Act>
      <Act disabled={busy} onClick={() => send({ do: 'drop' })}>
        Drop
      </Act>
    </>
  )
}
