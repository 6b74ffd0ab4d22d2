import { Box, Flex, Text } from '@chakra-ui/react'
import type { Finding, Fix } from '../api/client'
import { usePreview } from '../api/hooks'
import type { Change } from '../api/client'
import { sentence, show } from '../lib/units'
import { Act, Severity } from './atoms'
import { useWorkshop } from './bench'
import { effectWords } from './Strip'

export const changesOf = (fix: Fix): Change[] => fix.changes.map((c) => ({ path: c.path, value: c.value }))

/** What each of some fixes would do to the headline, and how to apply or try one. */
export function useFixes(fixes: Fix[], key: string) {
  const { bench, change, send, prefs } = useWorkshop()
  const preview = usePreview(
    bench.id,
    `${bench.seq}:${JSON.stringify(bench.trial)}:${key}:${fixes.map((f) => f.label).join('|')}`,
    fixes.map(changesOf).slice(0, 24),
  )
  const stopsNow = bench.assessment.bolts.flatMap((b) => b.findings).filter((f) => f.severity === 'stop').length
  const effect = (fix: Fix): string => {
    const p = preview.data?.[fixes.indexOf(fix)]
    if (!p?.headline) return p?.error ? p.error : preview.isPending ? '…' : ''
    const words = effectWords(bench.assessment.headline, p.headline, prefs)
    if (p.stops !== stopsNow) words.push(`stops ${stopsNow} → ${p.stops}`)
    return words.join(' · ') || 'headline unchanged'
  }
  const apply = (fix: Fix) => change(changesOf(fix), fix.label)
  const tryIt = bench.trial ? undefined : (fix: Fix) => send({ do: 'try' }, () => change(changesOf(fix), fix.label))
  return { effect, apply, tryIt }
}

/** Findings of a bolt, weightiest first; each fix shows what it does before it is pressed. */
export function Findings() {
  const { report, busy } = useWorkshop()
  const fixes = useFixes(report.findings.flatMap((f) => f.fixes), report.bolt)
  if (!report.findings.length) {
    return (
      <>
        <Text py="3" color="ink-soft">
          {report.missing.length ? 'No findings yet: not enough is known.' : 'No findings. Nothing stops this bolt.'}
        </Text>
        <Workings />
      </>
    )
  }
  return (
    <Box as="ul" listStyleType="none" aria-label="Findings">
      {report.findings.map((f) => (
        <FindingRow key={f.key} finding={f} {...fixes} busy={busy} />
      ))}
    </Box>
  )
}

/** Where nothing is found, the room serves the working behind the figures. */
function Workings() {
  const { report, prefs, open } = useWorkshop()
  return (
    <Box as="section" aria-label="Working behind the figures">
      {report.figures.map((f) => (
        <Box as="button" key={f.key} w="100%" textAlign="left" py="2" minH="touch" cursor="pointer" borderBottomWidth="hair" borderColor="rule" _hover={{ bg: 'well' }} onClick={() => open({ kind: 'figure', key: f.key })}>
          <Flex justify="space-between" gap="3">
            <Text fontWeight="600">{f.label}</Text>
            <Text textStyle="digits" fontSize="lead">
              {show(f.value, f.quantity, prefs).text}
            </Text>
          </Flex>
          <Text fontSize="small" color="ink-soft">
            {f.formula || 'taken as it is'}
          </Text>
        </Box>
      ))}
    </Box>
  )
}

/** One fix: press to apply, or try it first; what it does stands under it. */
export function FixRow(p: { fix: Fix; effect: (fix: Fix) => string; apply: (fix: Fix) => void; tryIt?: ((fix: Fix) => void) | undefined; busy: boolean; quiet?: boolean }) {
  return (
    <Box mt="2">
      <Flex gap="2" wrap="wrap">
        <Act tone={p.quiet ? 'plain' : 'choice'} disabled={p.busy} onClick={() => p.apply(p.fix)}>
          {p.fix.label}
        </Act>
        {p.tryIt && (
          <Act disabled={p.busy} onClick={() => p.tryIt!(p.fix)} aria-label={`Try: ${p.fix.label}`}>
            Try
          </Act>
        )}
      </Flex>
      <Text fontSize="note" mt="1" color="choice" fontWeight="500">
        {p.effect(p.fix)}
      </Text>
    </Box>
  )
}

function FindingRow(props: {
  finding: Finding
  effect: (fix: Fix) => string
  apply: (fix: Fix) => void
  tryIt?: ((fix: Fix) => void) | undefined
  busy: boolean
}) {
  const { prefs } = useWorkshop()
  const f = props.finding
  const has = f.measured !== null && f.limit !== null && f.quantity !== 'ratio'
  return (
    <Flex as="li" gap="3" py="3" borderBottomWidth="hair" borderColor="rule">
      <Box pt="0.5" flexShrink="0">
        <Severity kind={f.severity} />
      </Box>
      <Box flex="1" minW="0">
        <Flex justify="space-between" gap="3" align="baseline">
          <Text fontWeight="600" fontSize="lead" lineHeight="1.2">
            {f.title}
          </Text>
          {has && (
            <Text textStyle="digits" fontSize="lead" whiteSpace="nowrap">
              {show(f.measured, f.quantity, prefs, 3, f.limit || f.measured).number} / {show(f.limit, f.quantity, prefs, 3, f.limit || f.measured).text}
            </Text>
          )}
        </Flex>
        <Text mt="1">{sentence(f.reason, prefs)}</Text>
        <Text fontSize="note" color="ink-soft" mt="0.5">
          {f.source.text}
        </Text>
        {f.fixes.map((fix) => (
          <FixRow key={fix.label} fix={fix} effect={props.effect} apply={props.apply} tryIt={props.tryIt} busy={props.busy} />
        ))}
      </Box>
    </Flex>
  )
}
