import { Box, Dialog, Flex, NativeSelect, Portal, Text } from '@chakra-ui/react'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { Outlet, useLocation, useNavigate } from 'react-router'
import { type ActionContext, actionFor, ACTIONS } from '../actions/actions'
import { usePreferences, useSetPreference } from '../api/hooks'
import { METRIC, type UnitPrefs } from '../lib/units'
import { Act } from '../ui/atoms'
import { Hatches } from '../ui/Hatches'

export interface ShellApi {
  prefs: UnitPrefs
  register: (part: Partial<ActionContext>) => void
  help: () => void
  units: () => void
}

const IDLE: ActionContext = {
  go: () => undefined,
  garage: () => undefined,
  tryIt: () => undefined,
  keep: () => undefined,
  drop: () => undefined,
  back: () => undefined,
  undo: () => undefined,
  redo: () => undefined,
  close: () => undefined,
  help: () => undefined,
  theme: () => undefined,
  units: () => undefined,
  onTrial: false,
  dropped: false,
  inBuild: false,
  canUndo: false,
  canRedo: false,
}

const CHOICES = [
  ['speed', 'Speed', ['km/h', 'mph', 'm/s']],
  ['mass', 'Mass', ['kg', 'lb']],
  ['length', 'Length', ['mm', 'in']],
  ['temperature', 'Temperature', ['°C', '°F']],
] as const

/** To the heading of the page, past rail and headline. */
function skip(e: React.MouseEvent) {
  e.preventDefault()
  const head = document.querySelector<HTMLElement>('h1')
  head?.setAttribute('tabindex', '-1')
  head?.focus()
}

/** Preferences, theme, shortcuts and their help: what every page has. */
export function Shell() {
  const stored = usePreferences().data as Record<string, string> | undefined
  const save = useSetPreference()
  const [dialog, setDialog] = useState<'help' | 'units' | null>(null)
  const [page, setPage] = useState<Partial<ActionContext>>({})
  const navigate = useNavigate()
  const place = useLocation()
  const prefs = useMemo<UnitPrefs>(() => ({ ...METRIC, ...(stored ?? {}) }), [stored])
  const dark = (stored?.theme ?? (globalThis.matchMedia?.('(prefers-color-scheme: dark)').matches ? 'dark' : 'light')) === 'dark'
  useEffect(() => {
    document.documentElement.classList.toggle('dark', dark)
    document.documentElement.classList.toggle('light', !dark)
    document.documentElement.style.colorScheme = dark ? 'dark' : 'light'
  }, [dark])
  const setTheme = save.mutate
  const context = useMemo<ActionContext>(
    () => ({
      ...IDLE,
      ...page,
      inBuild: place.pathname.startsWith('/build/'),
      garage: () => navigate('/'),
      help: () => setDialog('help'),
      units: () => setDialog('units'),
      theme: () => setTheme({ key: 'theme', value: dark ? 'light' : 'dark' }),
    }),
    [page, place.pathname, navigate, dark, setTheme],
  )
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      if (dialog) return
      const action = actionFor(e, context)
      if (!action) return
      e.preventDefault()
      action.run(context)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [context, dialog])
  const register = useCallback((part: Partial<ActionContext>) => setPage(part), [])
  const api = useMemo<ShellApi>(
    () => ({ prefs, register, help: () => setDialog('help'), units: () => setDialog('units') }),
    [prefs, register],
  )
  return (
    <>
      <Hatches />
      <Box as="a" {...{ href: '#work' }} className="skip" onClick={skip}>
        Skip to the work
      </Box>
      <Outlet context={api} />
      <Dialog.Root open={dialog !== null} onOpenChange={(e) => !e.open && setDialog(null)}>
        <Portal>
          <Dialog.Backdrop />
          <Dialog.Positioner>
            <Dialog.Content bg="sheet" borderRadius="corner" borderTopWidth="bar" borderColor="choice" color="ink">
              <Dialog.Header>
                <Dialog.Title textStyle="title" fontSize="sub">
                  {dialog === 'help' ? 'Shortcuts' : 'Units and theme'}
                </Dialog.Title>
              </Dialog.Header>
              <Dialog.Body>
                {dialog === 'help' ? (
                  <Box as="ul" listStyleType="none">
                    {ACTIONS.map((a) => (
                      <Flex as="li" key={a.id} gap="3" py="1">
                        <Text textStyle="digits" minW="touch" fontSize="title">
                          {a.keys}
                        </Text>
                        <Text>{a.label}</Text>
                      </Flex>
                    ))}
                  </Box>
                ) : (
                  <Box>
                    {CHOICES.map(([key, label, options]) => (
                      <Flex key={key} align="center" justify="space-between" py="1">
                        <label htmlFor={`pref-${key}`}>{label}</label>
                        <NativeSelect.Root w="amount">
                          <NativeSelect.Field id={`pref-${key}`} h="touch" value={prefs[key]} onChange={(e) => save.mutate({ key, value: e.target.value })}>
                            {options.map((o) => (
                              <option key={o}>{o}</option>
                            ))}
                          </NativeSelect.Field>
                          <NativeSelect.Indicator />
                        </NativeSelect.Root>
                      </Flex>
                    ))}
                    <Flex align="center" justify="space-between" py="1">
                      <Text>Theme</Text>
                      <Act onClick={context.theme}>{dark ? 'Light, for daylight' : 'Dark, for the garage at night'}</Act>
                    </Flex>
                  </Box>
                )}
              </Dialog.Body>
              <Dialog.Footer>
                <Act tone="choice" onClick={() => setDialog(null)}>
                  Close
                </Act>
              </Dialog.Footer>
            </Dialog.Content>
          </Dialog.Positioner>
        </Portal>
      </Dialog.Root>
    </>
  )
}
