import { Box, Flex, Text } from '@chakra-ui/react'
import { problemText, useBeside } from '../api/hooks'
import { show, type UnitPrefs } from '../lib/units'
import { chokeWord } from '../theme/paint'
import { Act, Loading, Trouble } from '../ui/atoms'
import { Rows } from '../ui/Rows'

/** Builds side by side: the better one of each row, the unknown as unknown, and what was not alike. */
export function Beside({ ids, prefs, close }: { ids: string[]; prefs: UnitPrefs; close: () => void }) {
  const got = useBeside(ids)
  const d = got.data
  return (
    <Box as="section" aria-label="Side by side" bg="sheet" borderWidth="1px" borderColor="rule" borderTopWidth="3px" borderTopColor="choice" p="4" mb="4">
      <Flex align="center" gap="3">
        <Text as="h2" textStyle="title" fontSize="22px" flex="1">
          Side by side
        </Text>
        <Act onClick={close}>Close</Act>
      </Flex>
      {ids.length < 2 && <Text color="ink-soft">Choose one more build to put beside it.</Text>}
      {got.isPending && ids.length > 1 && <Loading what="Comparing …" />}
      {got.error && <Trouble text={problemText(got.error)} />}
      {d && (
        <>
          <Rows
            label="Builds side by side"
            heads={['', ...d.names]}
            left={[0, ...d.names.map((_, i) => i + 1)]}
            rows={d.rows.map((r) => [
              r.label,
              ...r.cells.map((c, i) => {
                const words = r.quantity === '' && c.words ? chokeWord(c.words) : c.words
                const value = c.value === null ? (words ? '' : 'unknown') : show(c.value, r.quantity, prefs).text
                return (
                  <Text key={i} as="span" fontWeight={c.best ? '700' : '400'} color={c.value === null && !c.words ? 'caution' : 'ink'}>
                    {[value, words].filter(Boolean).join(', ')}
                    {c.best ? ' ◂ best' : ''}
                  </Text>
                )
              }),
            ])}
          />
          {d.unlike.length > 0 && (
            <Box mt="2">
              <Text fontWeight="600" color="caution">
                Not alike, so part of each difference:
              </Text>
              {d.unlike.map((u) => (
                <Text key={u.label}>
                  {u.label}: {u.values.map((v, i) => `${d.names[i]} ${show(v, u.quantity, prefs).text}`).join('; ')}
                </Text>
              ))}
            </Box>
          )}
        </>
      )}
    </Box>
  )
}
