import { Box, Tabs as Chakra } from '@chakra-ui/react'
import { type ReactNode, useEffect, useRef, useState } from 'react'

export interface Tab {
  key: string
  label: string
  body: ReactNode
}

/** What lies under a drawing, one thing at a time. */
export function Tabs({ tabs, label, start }: { tabs: Tab[]; label: string; start?: string }) {
  const [chosen, setChosen] = useState(start ?? tabs[0]?.key)
  const root = useRef<HTMLDivElement>(null)
  const pressed = useRef(false)
  useEffect(() => {
    if (pressed.current) root.current?.scrollIntoView?.({ block: 'nearest' })
  }, [chosen])
  const here = tabs.find((t) => t.key === chosen) ?? tabs[0]
  if (!here) return null
  return (
    <Box ref={root}>
      <Chakra.Root
        value={here.key}
        lazyMount
        unmountOnExit
        onValueChange={(e) => {
          pressed.current = true
          setChosen(e.value)
        }}
      >
        <Chakra.List aria-label={label}>
          {tabs.map((t) => (
            <Chakra.Trigger key={t.key} value={t.key}>
              {t.label}
            </Chakra.Trigger>
          ))}
        </Chakra.List>
        {tabs.map((t) => (
          <Chakra.Content key={t.key} value={t.key}>
            {t.body}
          </Chakra.Content>
        ))}
      </Chakra.Root>
    </Box>
  )
}
