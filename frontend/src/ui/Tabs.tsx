import { Box, Flex } from '@chakra-ui/react'
import { type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from 'react'
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
  const choose = (tab: Tab) => {
    pressed.current = true
    setChosen(tab.key)
  }
  const byKey = (event: KeyboardEvent) => {
    const now = tabs.indexOf(here)
    const next = { ArrowRight: now + 1, ArrowLeft: now - 1, Home: 0, End: tabs.length - 1 }[event.key]
    const tab = next === undefined ? undefined : tabs[(next + tabs.length) % tabs.length]
    if (!tab) return
    event.preventDefault()
    choose(tab)
    document.getElementById(`${id}-${tab.key}`)?.focus()
  }
  return (
    <Box ref={root}>
      <Flex role="tablist" aria-label={label} onKeyDown={byKey} gap="1" overflowX="auto" borderBottomWidth="1px" borderColor="rule">
        {tabs.map((t) => (
          <Act
            key={t.key}
            role="tab"
            tone="ghost"
            flexShrink="0"
            id={`${id}-${t.key}`}
            aria-selected={t === here}
            aria-controls={`${id}-panel`}
            tabIndex={t === here ? 0 : -1}
            borderRadius="0"
            borderBottomWidth="3px"
            borderBottomColor={t === here ? 'choice' : 'transparent'}
            fontWeight={t === here ? '600' : '400'}
            onClick={() => choose(t)}
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
