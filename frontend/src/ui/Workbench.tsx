import { Box, Flex, Text } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import { QUESTION, STATE_WORDS, title } from '../lib/nine'
import { show, showDelta } from '../lib/units'
import { Act, Nothing } from './atoms'
import { specAt, useWorkshop, valueWords, wordsFor } from './bench'
import { Hex } from './Hex'
import { PartButtons } from './PartEditor'
import { SidePanel } from './SidePanel'
import { day } from '../lib/when'

/** One bolt's place: its drawing first, figures and parts under it, findings beside it. bare: nothing can be drawn yet,
 * and what is under it leads on. */
export function Workbench(props: { parts: string[]; children: ReactNode; under?: ReactNode; tools?: ReactNode; bare?: boolean }) {
  const { report } = useWorkshop()
  return (
    <Flex flex="1" minH="0" direction={{ base: 'column', md: 'row' }} overflowY={{ base: 'visible', md: 'hidden' }}>
      <Flex direction="column" flex="1" minW="0" minH="0" overflowY={{ base: 'visible', md: 'auto' }} px={{ base: '2', md: '4' }} py="2" gap="2">
        <Head tools={props.tools} />
        <Box flex={props.bare ? '0 0 auto' : '1 0 auto'} minH={props.bare ? 'pick' : { base: 'column', md: 'max({sizes.column}, 54dvh)' }} bg="sheet" borderWidth="hair" borderColor="rule" position="relative" display="flex" flexDirection="column">
          {props.children}
        </Box>
        {report.figures.length > 0 && <Figures />}
        <PartButtons paths={props.parts} />
        {props.under}
      </Flex>
      <Box
        as="aside"
        w={{ base: 'auto', md: 'column', lg: 'panel' }}
        flexShrink="0"
        minH="0"
        borderLeftWidth={{ base: '0', md: 'hair' }}
        borderTopWidth={{ base: 'hair', md: '0' }}
        borderColor="rule"
        bg="sheet"
      >
        <SidePanel />
      </Box>
    </Flex>
  )
}

function Head({ tools }: { tools?: ReactNode }) {
  const { bolt, report } = useWorkshop()
  return (
    <Flex align="center" gap="3" wrap="wrap" minH="touch" flexShrink="0">
      <Text as="h1" id="work" textStyle="title" fontSize={{ base: 'sub', lg: 'figure' }}>
        {title(bolt)}
      </Text>
      <Text color="ink-soft" flex="1 1 {sizes.amount}" minW="0" fontSize="lead" lineHeight="1.2">
        {QUESTION[bolt]}
      </Text>
      {tools}
      <Sign key={report.bolt} />
    </Flex>
  )
}

/** The witness mark: paint it, see what broke it, wipe it off. */
function Sign() {
  const { report, send, bench, busy, open } = useWorkshop()
  const marked = report.state === 'marked'
  const can = !bench.trial && (report.state === 'snug' || report.state === 'broken')
  const why = bench.trial
    ? 'Keep or drop the what-if first'
    : report.state === 'stopped'
      ? 'Clear the stop first'
      : report.state === 'loose'
        ? `${report.missing.length} value${report.missing.length === 1 ? ' is' : 's are'} missing`
        : ''
  return (
    <Flex align="center" gap="2" className="no-print" minW="0">
      <Text fontSize="small" color="ink-soft" display={{ base: 'none', lg: 'block' }} maxW="figure" lineHeight="1.15">
        {why || STATE_WORDS[report.state]}
        {marked && report.signed_at && (
          <>
            {' '}
            <Text as="span" whiteSpace="nowrap">
              {day(report.signed_at)}
            </Text>
          </>
        )}
      </Text>
      {marked ? (
        <Act disabled={busy} onClick={() => send({ do: 'unsign', bolt: report.bolt })}>
          <Hex n="" state="marked" size={26} /> Wipe mark
        </Act>
      ) : (
        <Act disabled={!can || busy} title={why} onClick={() => send({ do: 'sign', bolt: report.bolt }, () => open({ kind: 'findings' }))}>
          <Hex n="" state={report.state} size={26} /> {report.state === 'broken' ? 'Sign again' : 'Sign off'}
        </Act>
      )}
    </Flex>
  )
}

/** An input that moved, in words: which, and from what to what. */
export function useMovedWords(): (m: { path: string; then?: unknown; now?: unknown }) => string {
  const { fields, prefs } = useWorkshop()
  return (m) => {
    const path = m.path.replace(/\.#$/, '')
    const quantity = specAt(fields, path)?.quantity ?? 'ratio'
    return `${wordsFor(fields, path)}: ${valueWords(m.then, quantity, prefs)} → ${valueWords(m.now, quantity, prefs)}`
  }
}

/** What moved since the mark was painted. */
export function BrokenMark() {
  const { report } = useWorkshop()
  const words = useMovedWords()
  if (report.state !== 'broken' && !report.moved.length) return null
  return (
    <Flex role="status" gap="3" px="3" py="2" align="center" bg="choice-wash" wrap="wrap">
      <Hex n="" state="broken" size={32} />
      <Text fontWeight="600">Mark broken.</Text>
      {report.moved.slice(0, 3).map((m) => (
        <Text key={m.path}>{words(m)}</Text>
      ))}
      {report.moved.length > 3 && <Text>and {report.moved.length - 3} more</Text>}
    </Flex>
  )
}

const FIRST_FIGURES = 9

/** The first figures; the others on demand, and whenever one of them has moved or is open. */
function Figures() {
  const { report, prefs, open, panel, was } = useWorkshop()
  const [all, setAll] = useState(false)
  const hidden = report.figures.slice(FIRST_FIGURES)
  const wanted = hidden.some((f) => {
    const old = was(`${report.bolt}.${f.key}`)
    return (panel.kind === 'figure' && panel.key === f.key) || (old != null && f.value !== null && show(old, f.quantity, prefs).text !== show(f.value, f.quantity, prefs).text)
  })
  const first = all || wanted || hidden.length < 3 ? report.figures : report.figures.slice(0, FIRST_FIGURES)
  return (
    <Flex gap="1" wrap="wrap" role="group" aria-label="Figures">
      {first.map((f) => {
        const shown = show(f.value, f.quantity, prefs)
        const old = was(`${report.bolt}.${f.key}`)
        const moved = old !== undefined && old !== null && f.value !== null && show(old, f.quantity, prefs).text !== shown.text
        const here = panel.kind === 'figure' && panel.key === f.key
        return (
          <Box
            as="button"
            key={f.key}
            onClick={() => open({ kind: 'figure', key: f.key })}
            textAlign="left"
            px="2"
            py="0.5"
            minH="touch"
            display="flex"
            flexDirection="column"
            justifyContent="space-between"
            alignItems="stretch"
            flex="1 1 {sizes.figure}"
            maxW="field"
            cursor="pointer"
            bg={here ? 'choice-wash' : 'transparent'}
            borderLeftWidth="line"
            borderColor={moved ? 'choice' : 'rule-strong'}
            _hover={{ bg: 'well' }}
          >
            <Text textStyle="label" overflowWrap="anywhere">
              {f.label}
            </Text>
            <Text textStyle="digits" fontSize="head">
              {shown.text}
            </Text>
            {moved && (
              <Text fontSize="note" color="choice">
                was {show(old, f.quantity, prefs, 3, f.value).number} ({showDelta(f.value! - old, f.value, f.quantity, prefs)})
              </Text>
            )}
          </Box>
        )
      })}
      {report.figures.length > first.length && (
        <Act aria-expanded={false} onClick={() => setAll(true)}>
          {report.figures.length - first.length} more
        </Act>
      )}
    </Flex>
  )
}

/** What the drawing shows while the bolt is loose: the missing values, each a way to give it. */
export function Missing() {
  const { report, fields, open } = useWorkshop()
  return (
    <Nothing title="Not enough is known to draw this">
      <Text>Every value may stay a guess. These are missing:</Text>
      <Flex gap="2" wrap="wrap">
        {report.missing.map((path) => (
          <Act key={path} tone="choice" onClick={() => open({ kind: 'part', path: path.split('.').slice(0, -1).join('.') })}>
            {wordsFor(fields, path)}
          </Act>
        ))}
      </Flex>
    </Nothing>
  )
}
