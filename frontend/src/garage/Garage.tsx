import { Box, Flex, Grid, Input, Text, VisuallyHidden } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { after, type Card, isHeld } from '../api/client'
import { problemText, useCards, useGarageCall, useStanding } from '../api/hooks'
import { BOLTS, STATE_WORDS, title } from '../lib/nine'
import { show, type UnitPrefs } from '../lib/units'
import { chokePaint, chokeWord, hatchFill } from '../theme/paint'
import { Act, Loading, Nothing, Severity, Trouble } from '../ui/atoms'
import { FilePick } from '../ui/FilePick'
import { Hex } from '../ui/Hex'
import { Beside } from './Beside'
import { Phones } from './Phones'
import { HEADLINE, headlineLabel, opensWords } from '../ui/Strip'

const MOST_BESIDE = 4

/** All builds: headline, the nine bolts, and what comes next. */
export function Garage({ prefs, units }: { prefs: UnitPrefs; units: () => void }) {
  const cards = useCards()
  const standing = useStanding(cards)
  const wrong = standing ?? cards.error
  const call = useGarageCall()
  const go = useNavigate()
  const [name, setName] = useState('')
  const [beside, setBeside] = useState<string[]>(() => new URLSearchParams(location.search).getAll('beside').slice(0, MOST_BESIDE))
  const toggle = (id: string) => setBeside((now) => (now.includes(id) ? now.filter((x) => x !== id) : [...now, id].slice(-MOST_BESIDE)))
  // Deleting it was refused: a write into its controller is open.
  const held = isHeld(call.error) && call.variables?.do === 'delete' ? call.variables.id : ''
  const create = () => name.trim() && after(call.mutateAsync({ do: 'create', name }), (made) => made && go(`/build/${made.id}/donor`))
  const shown = cards.data?.filter((c) => !c.archived) ?? []
  const stored = cards.data?.filter((c) => c.archived) ?? []
  return (
    <Box maxW="page" mx="auto" px={{ base: '3', md: '6' }} py="4" as="main">
      <Flex align="flex-end" gap="4" wrap="wrap" mb="4">
        <Box flex="1" minW="wide">
          <Text as="h1" id="work" textStyle="title" fontSize="large">
            Garage
          </Text>
          <Text color="ink-soft">Nine bolts hold a build together.</Text>
        </Box>
        <Flex as="form" gap="2" onSubmit={(e) => (e.preventDefault(), create())} wrap="wrap">
          <Input h="touch" w="field" bg="sheet" borderColor="rule-strong" borderRadius="corner" placeholder="Name of a new build" aria-label="Name of a new build" value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
          <Act tone="choice" type="submit" disabled={!name.trim() || call.isPending}>
            New build
          </Act>
          <FilePick
            label="Import"
            name="Build file"
            reads="build"
            pick={(f) => after(call.mutateAsync({ do: 'import', file: f }), (made) => made && go(`/build/${made.id}/donor`))}
          />
          <Act onClick={() => go('/parts')}>Parts shelf</Act>
          <Act onClick={() => go('/bench')}>Bench bike</Act>
          <Act tone="ghost" onClick={units}>
            Units and theme
          </Act>
        </Flex>
      </Flex>
      {call.error && (
        <Box mb="3">
          <Trouble text={problemText(call.error)}>
            <Act onClick={() => call.reset()}>Close</Act>
          </Trouble>
        </Box>
      )}
      {cards.isPending && !wrong && <Loading what="Looking at the builds …" />}
      {wrong && (
        <Trouble text={problemText(wrong)}>
          <Act onClick={() => void cards.refetch()}>Try again</Act>
        </Trouble>
      )}
      {cards.data?.length === 0 && (
        <Nothing title="No build yet">
          <Text>Name one above, or import a file. Everything may stay unknown at first.</Text>
        </Nothing>
      )}
      {beside.length > 0 && <Beside ids={beside} prefs={prefs} close={() => setBeside([])} />}
      {shown.map((c) => (
        <BuildRow key={c.id} card={c} prefs={prefs} beside={beside.includes(c.id)} toggle={() => toggle(c.id)} call={(x) => call.mutate(x)} busy={call.isPending} held={held === c.id} />
      ))}
      {stored.length > 0 && (
        <Text as="h2" textStyle="title" fontSize="head" mt="6" mb="2">
          Archived
        </Text>
      )}
      {stored.map((c) => (
        <BuildRow key={c.id} card={c} prefs={prefs} call={(x) => call.mutate(x)} busy={call.isPending} held={held === c.id} />
      ))}
      <Phones />
    </Box>
  )
}

function BuildRow(props: { card: Card; prefs: UnitPrefs; call: (c: Parameters<ReturnType<typeof useGarageCall>['mutate']>[0]) => void; busy: boolean; held: boolean; beside?: boolean; toggle?: () => void }) {
  const { card: c, prefs, call, busy } = props
  const go = useNavigate()
  const [renaming, setRenaming] = useState<string | null>(null)
  const to = `/build/${c.id}/${c.last_bolt || c.next_bolt || 'donor'}`
  const h = c.headline
  const broken = BOLTS.every((b) => c.states[b] === 'failed')
  const [sure, setSure] = useState(false)
  return (
    <Box as="article" aria-label={c.name} bg="sheet" borderWidth="hair" borderColor="rule" borderTopWidth="bar" borderTopColor="ink" mb="4">
      <Flex gap="4" px="4" pt="3" align="baseline" wrap="wrap">
        {renaming === null ? (
          <Text as="h2" textStyle="title" fontSize="figure" minW="0" maxW="100%" overflowWrap="anywhere">
            <a href={to} onClick={(e) => (e.preventDefault(), go(to))}>
              {c.name}
            </a>
          </Text>
        ) : (
          <Flex as="form" gap="2" onSubmit={(e) => (e.preventDefault(), call({ do: 'rename', id: c.id, name: renaming }), setRenaming(null))}>
            <Input h="touch" autoFocus aria-label="New name" value={renaming} maxLength={80} onChange={(e) => setRenaming(e.target.value)} />
            <Act type="submit" tone="choice" disabled={!renaming.trim()}>
              Rename
            </Act>
          </Flex>
        )}
        <Text color="ink-soft" flex="1" minW="field">
          {c.note}
        </Text>
        {c.on_trial && (
          <Text color="choice" fontWeight="600">
            what-if open
          </Text>
        )}
        {c.stops > 0 && (
          <Flex align="center" gap="1">
            <Severity kind="stop" />
            <Text fontWeight="600">{c.stops} stop</Text>
          </Flex>
        )}
        {c.cautions > 0 && (
          <Flex align="center" gap="1">
            <Severity kind="caution" />
            <Text>{c.cautions}</Text>
          </Flex>
        )}
      </Flex>
      <Grid templateColumns={{ base: '1fr 1fr 1fr', md: 'repeat(6, 1fr)' }} px="4" py="2" gap="2">
        {HEADLINE.map((row) => {
          const s = show(h[row.key] as number | null, row.quantity, prefs)
          return (
            <Box key={row.key}>
              <Text textStyle="label">{headlineLabel(row, h, prefs)}</Text>
              <Text textStyle="digits" fontSize="figure">
                {s.number}
                <Box as="span" fontSize="body" fontWeight="500" ml="1">
                  {s.unit}
                </Box>
              </Text>
            </Box>
          )
        })}
        <Box>
          <Text textStyle="label">choke</Text>
          <Flex align="center" gap="2">
            <svg width="22" height="24" aria-hidden="true">
              <rect x="1" y="1" width="20" height="22" fill={hatchFill(h.choke)} stroke={chokePaint(h.choke)} strokeWidth="2" />
            </svg>
            <Text textStyle="digits" fontSize="figure" color="choke">
              {chokeWord(h.choke)}
            </Text>
          </Flex>
          {h.opens && (
            <Text fontSize="note" color="stop" fontWeight="600">
              {opensWords(h, prefs)}
            </Text>
          )}
        </Box>
      </Grid>
      <Flex px="3" pb="3" gap="3" align="center" wrap="wrap">
        <Flex wrap="wrap">
          {BOLTS.map((b, i) => (
            <Box as="button" key={b} minW="touch" minH="touch" cursor="pointer" onClick={() => go(`/build/${c.id}/${b}`)}>
              <Hex n={i + 1} state={c.states[b] ?? 'loose'} size={44} />
              <VisuallyHidden>
                {title(b)}: {STATE_WORDS[c.states[b] ?? 'loose']}
              </VisuallyHidden>
            </Box>
          ))}
        </Flex>
        <Act tone="choice" disabled={broken} onClick={() => go(`/build/${c.id}/${c.next_bolt || 'prove'}`)} flex="1 1 {sizes.wide}" justifyContent="flex-start" h="auto" py="2" whiteSpace="normal" textAlign="left">
          {c.next_bolt ? `Next, ${title(c.next_bolt)}: ${c.next_step}` : c.next_step}
        </Act>
        <Flex gap="1" wrap="wrap">
          <Act onClick={() => setRenaming(renaming === null ? c.name : null)}>Rename</Act>
          {broken ? (
            <Act disabled={busy} onClick={() => call({ do: c.on_trial ? 'drop' : 'undo', id: c.id })}>
              {c.on_trial ? 'Drop the what-if' : 'Undo its last change'}
            </Act>
          ) : (
            <Act disabled={busy} onClick={() => call({ do: 'duplicate', id: c.id })}>
              Duplicate
            </Act>
          )}
          {props.toggle && !broken && (
            <Act aria-pressed={props.beside} bg={props.beside ? 'choice-wash' : 'sheet'} onClick={props.toggle}>
              Side by side
            </Act>
          )}
          <Act asChild>
            <a href={`/api/builds/${c.id}/export?logs=true`} download title="Plan, logs, photos, all states, sessions and writes in one zip">
              Export
            </a>
          </Act>
          <Act disabled={busy} onClick={() => call({ do: 'archive', id: c.id, archived: !c.archived })}>
            {c.archived ? 'Take back' : 'Archive'}
          </Act>
          {(c.archived || broken) && (
            <Act disabled={busy} onClick={() => (sure ? call({ do: 'delete', id: c.id, anyway: props.held }) : setSure(true))}>
              {props.held ? 'Delete it, and the backup of its controller' : sure ? 'Delete it with all its runs' : 'Delete …'}
            </Act>
          )}
        </Flex>
      </Flex>
    </Box>
  )
}
