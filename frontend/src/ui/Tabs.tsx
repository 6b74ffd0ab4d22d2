import { Box, Flex } from '@chakra-ui/react'
import { type ReactNode, useEffect, useId, useRef, useState } from 'react'
import { Act } from './atoms'

export interface Tab {
  key: string
  label: string
  body: ReactNode
}

/** What lies under a drawing, one thing at a time. */
export function Tabs({ tabs, label, start }: { tabs: Tab[]; label: string; start?: string }) {
  const [chosen, setChosen] = useState(start ?? tabs[0]?.key)
  const id = useId()
  const root = useRef<HTMLDivElement>(null)
  const pressed = useRef(false)
  useEffect(() => {
    if (pressed.current) root.current?.scrollIntoView?.({ block: 'nearest' })
  }, [chosen])
  const here = tabs.find((t) => t.key === chosen) ?? tabs[0]
  if (!here) return null
  return (
    <Box ref={root}>
      <Flex role="tablist" aria-label={label} gap="1" overflowX="auto" borderBottomWidth="1px" borderColor="rule">
        {tabs.map((t) => (
          <Act
            key={t.key}
            role="tab"
            tone="ghost"
            flexShrink="0"
            id={`${id}-${t.key}`}
            aria-selected={t === here}
            aria-controls={`${id}-panel`}
            borderRadius="0"
            borderBottomWidth="3px"
            borderBottomColor={t === here ? 'choice' : 'transparent'}
            fontWeight={t === here ? '600' : '400'}
            onClick={() => {
              pressed.current = true
              setChosen(t.key)
            }}
          >
            {t.label}
          </Act>
        ))}
      </Flex>
      <Box role="tabpanel" id={`${id}-panel`} aria-labelledby={`${id}-${here.key}`} py="2">
        {here.body}
      </Box>
    </Box>
  )
}
