import { ChakraProvider } from '@chakra-ui/react'
import { MutationCache, notifyManager, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { BrowserRouter, Route, Routes, useNavigate, useOutletContext } from 'react-router'
import { BenchBike } from '../garage/BenchBike'
import { Garage } from '../garage/Garage'
import { Parts } from '../garage/Parts'
import { system } from '../theme/system'
import { Act, Nothing } from '../ui/atoms'
import { Mishap } from '../ui/Mishap'
import { afterPress } from '../ui/usePress'
import { isSilent } from '../api/client'
import { WATCH_MS } from '../api/hooks'
import { useSending } from '../api/taps'
import { BuildPage } from './BuildPage'
import { Shell, type ShellApi } from './Shell'

notifyManager.setScheduler(afterPress) // what comes from the program moves nothing from under a finger

// 'always': what cannot be sent fails at once and says so. To wait in silence for a network would show a change as made.
const client: QueryClient = new QueryClient({
  // An act that nothing answered may have been carried out: what there is now is looked at, before it is done twice.
  mutationCache: new MutationCache({ onError: (error) => void (isSilent(error) && client.invalidateQueries()) }),
  defaultOptions: {
    queries: {
      retry: 1,
      refetchOnWindowFocus: true,
      refetchOnReconnect: true,
      staleTime: 2000,
      networkMode: 'always',
      // What nothing answered is asked for again until something does: a page never stays half there.
      refetchInterval: (query) => (isSilent(query.state.error) ? WATCH_MS : false),
    },
    mutations: { retry: 0, networkMode: 'always' },
  },
})

function GarageRoute() {
  const { prefs, units } = useOutletContext<ShellApi>()
  return <Garage prefs={prefs} units={units} />
}

function PartsRoute() {
  return <Parts prefs={useOutletContext<ShellApi>().prefs} />
}

function BenchRoute() {
  return <BenchBike prefs={useOutletContext<ShellApi>().prefs} />
}

/** Runs that a browser still keeps go from whatever page is open. */
function Sending() {
  useSending()
  return null
}

function Lost() {
  const navigate = useNavigate()
  return (
    <Nothing title="There is nothing at this address">
      <Act tone="choice" onClick={() => navigate('/')}>
        To the garage
      </Act>
    </Nothing>
  )
}

export function App() {
  return (
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <Sending />
        <BrowserRouter>
          <Mishap>
            <Routes>
              <Route element={<Shell />}>
                <Route index element={<GarageRoute />} />
                <Route path="parts" element={<PartsRoute />} />
                <Route path="bench" element={<BenchRoute />} />
                <Route path="build/:id/:bolt?" element={<BuildPage />} />
                <Route path="*" element={<Lost />} />
              </Route>
            </Routes>
          </Mishap>
        </BrowserRouter>
      </QueryClientProvider>
    </ChakraProvider>
  )
}
