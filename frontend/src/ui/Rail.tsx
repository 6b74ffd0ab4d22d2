import { Box, Flex, Text, VisuallyHidden } from '@chakra-ui/react'
import type { BoltReport } from '../api/client'
import { BOLTS, type Bolt, STATE_WORDS, title } from '../lib/nine'
import { Hex } from './Hex'

/** The nine bolts: the only main navigation inside a build. Left on a laptop, under the thumb on a
 * phone. */
export function Rail(props: { reports: BoltReport[]; current: Bolt; go: (bolt: Bolt) => void }) {
  return (
    <Flex
      as="nav"
      aria-label="Bolts"
      direction={{ base: 'row', md: 'column' }}
      overflowX={{ base: 'hidden', md: 'visible' }}
      overflowY={{ base: 'hidden', md: 'auto' }}
      bg="well"
      borderColor="rule"
      borderRightWidth={{ base: '0', md: 'hair' }}
      borderTopWidth={{ base: 'hair', md: '0' }}
      position={{ base: 'fixed', md: 'static' }}
      bottom="0"
      left="0"
      right="0"
      zIndex="10"
      w={{ base: 'auto', md: 'digits' }}
      flexShrink="0"
      py={{ base: '0', md: '1' }}
      justify={{ base: 'flex-start', md: 'space-between' }}
    >
      {BOLTS.map((bolt, i) => {
        const report = props.reports.find((r) => r.bolt === bolt)
        const state = report?.state ?? 'loose'
        const here = bolt === props.current
        return (
          <Box
            as="button"
            key={bolt}
            onClick={() => props.go(bolt)}
            aria-current={here ? 'page' : undefined}
            flex="1 1 0"
            minW="0"
            minH="row"
            cursor="pointer"
            borderLeftWidth={{ base: '0', md: 'bar' }}
            borderTopWidth={{ base: 'bar', md: '0' }}
            borderColor={here ? 'choice' : 'transparent'}
            bg={here ? 'sheet' : 'transparent'}
            _hover={{ bg: 'sheet' }}
          >
            <Flex direction="column" align="center" justify="center" gap="0.5">
              <Hex n={i + 1} state={state} size={42} current={here} />
              <Text fontSize={{ base: 'note', md: 'note' }} fontWeight={here ? '600' : '500'} lineHeight="1">
                {title(bolt)}
                <VisuallyHidden>({STATE_WORDS[state]})</VisuallyHidden>
              </Text>
            </Flex>
          </Box>
        )
      })}
    </Flex>
  )
}
