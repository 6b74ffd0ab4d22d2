import { Box, Flex, Text } from '@chakra-ui/react'
import { useEffect, useRef, useState } from 'react'
import { useHistory, useLogs } from '../api/hooks'
import { title } from '../lib/nine'
import { stringAt, type ValueDoc } from '../lib/path'
import { show } from '../lib/units'
import { Act } from './atoms'
import { HowSure } from './HowSure'
import { changeWords, labelAt, specAt, useWorkshop, valueWords, wordsFor } from './bench'
import { Choke } from './Choke'
import { Findings, FixRow, useFixes } from './Findings'
import { PartEditor } from './PartEditor'
import { minute } from '../lib/when'

/** The right column: findings, or the part, working or history that was opened. */
export function SidePanel() {
  const { panel, open, fields, bolt, report } = useWorkshop()
  const stops = report.findings.filter((f) => f.severity === 'stop').length
  const heads = {
    findings: `Findings${report.findings.length ? ` · ${report.findings.length}` : ''}${stops ? `, ${stops} stop` : ''}`,
    part: panel.kind === 'part' ? (labelAt(fields, panel.path) ?? title(bolt)) : '',
    figure: 'Working',
    sure: 'How sure is it?',
    choke: 'What holds it back',
    history: 'Kept changes',
  }
  const parent = panel.kind === 'part' && /\.\d+$/.test(panel.path) ? panel.path.split('.').slice(0, -2).join('.') : ''
  const root = useRef<HTMLDivElement>(null)
  const shown = JSON.stringify(panel)
  const before = useRef(shown)
  useEffect(() => {
    // Where the column stands below the work, as on a phone, what was opened comes into view.
    if (before.current === shown) return
    before.current = shown
    const top = root.current?.getBoundingClientRect().top ?? 0
    if (panel.kind !== 'findings' && top > globalThis.innerHeight / 2) root.current?.scrollIntoView?.({ block: 'start' })
  }, [shown, panel.kind])
  return (
    <Flex ref={root} direction="column" h="100%" minH="0" scrollMarginTop="36">
      <Flex align="center" justify="space-between" minH="touch" px="3" borderBottomWidth="hair" borderColor="rule" gap="2">
        <Text as="h2" textStyle="title" fontSize="head" lineHeight="1.15" overflowWrap="anywhere">
          {heads[panel.kind]}
        </Text>
        {panel.kind === 'findings' && (
          <Act display={{ base: 'inline-flex', sm: 'none' }} onClick={() => open({ kind: 'history' })}>
            Changes
          </Act>
        )}
        {panel.kind !== 'findings' && (
          <Act onClick={() => open(parent ? { kind: 'part', path: parent } : { kind: 'findings' })}>{parent ? 'Back' : 'Close'}</Act>
        )}
      </Flex>
      <Box flex="1" minH="0" overflowY="auto" px="3" tabIndex={0} role="region" aria-label={heads[panel.kind]}>
        {panel.kind === 'findings' && <Findings />}
        {panel.kind === 'part' && <Swaps path={panel.path} />}
        {panel.kind === 'part' && <PartEditor key={panel.path} path={panel.path} />}
        {panel.kind === 'figure' && <Working figureKey={panel.key} />}
        {panel.kind === 'sure' && <HowSure />}
        {panel.kind === 'choke' && <Choke />}
        {panel.kind === 'history' && <History />}
      </Box>
    </Flex>
  )
}

/** What on the shelf could take the place of a link of the load path, in one press. */
function Swaps({ path }: { path: string }) {
  const { bench, bolt, busy } = useWorkshop()
  const link = bench.assessment.drawings.guard?.links.find((l) => l.path === path)
  const swaps = link?.swaps ?? []
  const fixes = useFixes(bolt === 'guard' ? swaps : [], `swap:${path}`)
  if (bolt !== 'guard' || !link || path === 'pack.cell') return null
  if (!swaps.length) {
    return (
      <Text py="2" color="ink-soft">
        Nothing else on the shelf is known to carry this pack and these line amps and to leave nothing unprotected.
      </Text>
    )
  }
  return (
    <Box pt="2" pb="3" borderBottomWidth="hair" borderColor="rule" role="group" aria-label="Swaps">
      <Text fontWeight="600">On the shelf: it carries this pack and these line amps, and leaves nothing unprotected</Text>
      {swaps.map((s) => (
        <FixRow key={s.label} fix={s} {...fixes} busy={busy} quiet />
      ))}
    </Box>
  )
}

function Working({ figureKey }: { figureKey: string }) {
  const { report, prefs, open } = useWorkshop()
  const f = report.figures.find((x) => x.key === figureKey)
  if (!f) return null
  return (
    <Box py="3">
      <Text>{f.label}</Text>
      <Text textStyle="digits" fontSize="huge" my="1">
        {show(f.value, f.quantity, prefs, 4).text}
      </Text>
      <Text fontSize="lead" my="3" p="3" bg="well" borderLeftWidth="bar" borderColor="rule-strong">
        {f.formula || 'taken as it is'}
      </Text>
      {f.terms.map((t) => (
        <Flex key={t.symbol + t.label} justify="space-between" gap="3" minH="touch" align="center" borderBottomWidth="hair" borderColor="rule">
          <Text>
            <b>{t.symbol}</b> {t.label}
          </Text>
          <Flex align="center" gap="2">
            <Text textStyle="digits" fontSize="title">
              {show(t.value, t.quantity, prefs, 4).text}
            </Text>
            {t.path && (
              <Act aria-label={`Change ${t.label}`} onClick={() => open({ kind: 'part', path: t.path.split('.').slice(0, -1).join('.') })}>
                change
              </Act>
            )}
          </Flex>
        </Flex>
      ))}
      <Text fontSize="note" color="ink-soft" mt="3">
        Source: {f.source.text}
      </Text>
    </Box>
  )
}

const LOG = 'prove.log_id'

/** What a change was; where both values read alike, what is between them. */
const betweenWords = (old: string, now: string, before: unknown, after: unknown) => {
  if (old !== now) return `${old} → ${now}`
  const [was, is] = [originWords(before), originWords(after)]
  return was && is && was !== is ? `${old}, ${was} → ${is}` : `${now}, changed within`
}

const originWords = (value: unknown) => {
  const v = value as Partial<ValueDoc> | null
  const spread = v?.tolerance ? ` ± ${+(v.tolerance * 100).toPrecision(2)} %` : ''
  return v?.origin ? `${v.origin}${spread}` : ''
}

const PAGE = 60 // changes at a time: a year of evenings is thousands

function History() {
  const { bench, fields, prefs, send } = useWorkshop()
  const rows = useHistory(bench.id, bench.seq).data ?? []
  const logs = useLogs(bench.id, stringAt(bench.doc, LOG)).data
  const [shown, setShown] = useState(PAGE)
  return (
    <Box py="2">
      <Flex gap="2" pb="2">
        <Act disabled={!bench.can_undo || !!bench.trial} onClick={() => send({ do: 'undo' })}>
          Undo
        </Act>
        <Act disabled={!bench.can_redo || !!bench.trial} onClick={() => send({ do: 'redo' })}>
          Redo
        </Act>
        {bench.dropped && !bench.trial && (
          <Act onClick={() => send({ do: 'back' })}>
            Take the dropped what-if back ({bench.dropped.changes})
          </Act>
        )}
      </Flex>
      {rows.slice(0, shown).map((r) => (
        <Box key={r.seq} py="2" borderBottomWidth="hair" borderColor="rule" borderLeftWidth={r.seq === bench.seq ? 'bar' : '0'} borderLeftColor="choice" pl={r.seq === bench.seq ? '2' : '0'}>
          <Flex justify="space-between" gap="2">
            <Text fontWeight="500">{changeWords(fields, r)}</Text>
            <Text fontSize="note" color="ink-soft" whiteSpace="nowrap">
              {minute(r.at)}
            </Text>
          </Flex>
          {r.changes.slice(0, 6).map((c) => {
            const path = String(c.path)
            const q = specAt(fields, path)?.quantity ?? 'ratio'
            const words = (v: unknown) => (path === LOG && v ? (logs?.find((l) => l.id === v)?.name ?? 'a log that is gone') : valueWords(v, q, prefs))
            const [old, now] = [words(c.old), words(c.new)]
            return (
              <Text key={path} fontSize="small">
                {wordsFor(fields, path)}: {betweenWords(old, now, c.old, c.new)}
              </Text>
            )
          })}
          {r.changes.length > 6 && <Text fontSize="small">and {r.changes.length - 6} more</Text>}
          {r.seq !== bench.seq && (
            <Act mt="1" asChild>
              <a href={`/?beside=${bench.id}&beside=${bench.id}@${r.seq}`} aria-label={`Today's bike beside the one after: ${r.reason || 'this change'}`}>
                Beside today&apos;s
              </a>
            </Act>
          )}
        </Box>
      ))}
      {rows.length > shown && <Act mt="2" onClick={() => setShown(shown + PAGE)}>{rows.length - shown} older changes …</Act>}
    </Box>
  )
}
