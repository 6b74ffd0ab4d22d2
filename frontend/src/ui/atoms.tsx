import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import type { ComponentProps, ReactNode } from 'react'
import { paint } from '../theme/paint'
import { act } from '../theme/recipes'

/** A quiet button in ink; tone 'choice' is for what the person chose to do, 'stop' ends what moves. */
const Press = chakra('button', act)

export function Act(props: ComponentProps<typeof Press>) {
  return <Press type="button" {...props} className={`act ${props.className ?? ''}`} />
}

const SHAPES = {
  stop: <path d="M7.5 2h7L20 7.5v7L14.5 20h-7L2 14.5v-7z" />,
  caution: <path d="M11 2.5 21 20H1z" />,
  note: <circle cx="11" cy="11" r="8.5" />,
}

/** Severity by shape first, colour second. */
export function Severity({ kind, size = 22 }: { kind: 'stop' | 'caution' | 'note'; size?: number }) {
  const filled = kind === 'stop'
  return (
    <svg width={size} height={size} viewBox="0 0 22 22" role="img" aria-label={kind} style={{ flexShrink: 0 }}>
      <g fill={filled ? paint('stop') : 'none'} stroke={paint(kind)} strokeWidth="2">
        {SHAPES[kind]}
      </g>
      <path
        d={kind === 'note' ? 'M11 10v5M11 6.5v.5' : kind === 'stop' ? 'M6.5 11h9' : 'M11 9v5M11 17v.4'}
        stroke={filled ? paint('on-ink') : paint(kind)}
        strokeWidth="2.2"
        fill="none"
      />
    </svg>
  )
}

/** Something that stands in the way, beside its sign. */
export function Noted({ kind, strong, children }: { kind: 'stop' | 'caution'; strong?: boolean; children: ReactNode }) {
  return (
    <Flex gap="2" my="2" align="center" role="note">
      <Severity kind={kind} size={24} />
      <Text fontWeight={strong ? '600' : undefined}>{children}</Text>
    </Flex>
  )
}

export function Loading({ what }: { what: string }) {
  return (
    <Flex align="center" justify="center" minH="pick" role="status" color="ink-soft" gap="3">
      <Box w="glyph" h="bar" bg="choice" animation="pulse 1.2s infinite" />
      <Text>{what}</Text>
    </Flex>
  )
}

export function Trouble({ text, children }: { text: string; children?: ReactNode }) {
  return (
    <Flex role="alert" gap="3" p="3" borderLeftWidth="bar" borderColor="stop" bg="sheet" align="center" wrap="wrap">
      <Severity kind="stop" />
      <Text flex="1" minW="field">
        {text}
      </Text>
      {children}
    </Flex>
  )
}

export function Nothing({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <Flex direction="column" align="flex-start" justify="center" gap="3" p="6" h="100%" minH="field">
      <Text textStyle="title" fontSize="sub">
        {title}
      </Text>
      {children}
    </Flex>
  )
}

/** A long name in a button: on a second line, not cut. */
export function Wrapped({ children }: { children: ReactNode }) {
  return (
    <Text whiteSpace="normal" textAlign="left" lineHeight="1.15" overflowWrap="anywhere" minW="0">
      {children}
    </Text>
  )
}
