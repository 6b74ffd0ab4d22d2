import { ChakraProvider } from '@chakra-ui/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { BrowserRouter, Route, Routes, useNavigate, useOutletContext } from 'react-router'
import { BenchBike } from '../garage/BenchBike'
import { Garage } from '../garage/Garage'
import { Parts } from '../garage/Parts'
import { system } from '../theme/system'
import { Act, Nothing } from '../ui/atoms'
import { useSending } from '../api/taps'
import { BuildPage } from './BuildPage'
import { Shell, type ShellApi } from './Shell'

const client = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: true, staleTime: 2000 }, mutations: { retry: 0 } },
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
          <Routes>
            <Route element={<Shell />}>
              <Route index element={<GarageRoute />} />
              <Route path="parts" element={<PartsRoute />} />
              <Route path="bench" element={<BenchRoute />} />
              <Route path="build/:id/:bolt?" element={<BuildPage />} />
              <Route path="*" element={<Lost />} />
            </Route>
          </Routes>
        </BrowserRouter>
      </QueryClientProvider>
    </ChakraProvider>
  )
}
