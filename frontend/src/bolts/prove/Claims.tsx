import { Flex, NativeSelect } from '@chakra-ui/react'
import { useState } from 'react'
import { http, ok } from '../../api/client'
import { useRegisters } from '../../api/hooks'
import { useWorkshop } from '../../ui/bench'
import { Says, SumForm } from '../../ui/SumForm'

/** What people say of a bike, against what it takes: power from a time, a range that should be, minutes, charge. */
export function Claims() {
  const { bench } = useWorkshop()
  const protocols = useRegisters().data?.protocols ?? []
  const [protocol, setProtocol] = useState('')
  const ridden = protocol || (protocols[0]?.name ?? '')
  return (
    <Flex direction="column" gap="3" py="3">
      <SumForm
        title="Power from a time"
        how="A time from rest to a speed asks for so much power at the wheel. A claim beside it is judged."
        about={[]}
        inputs={[
          { key: 'mass_kg', label: 'kg with rider', quantity: 'kg', symbol: 'kg' },
          { key: 'speed_m_s', label: 'km/h', quantity: 'm_s', symbol: 'km/h' },
          { key: 'time_s', label: 's', quantity: 's', symbol: 's' },
          { key: 'claimed_w', label: 'kW claimed', quantity: 'w', symbol: 'kW', optional: true },
        ]}
        ask={(query) => ok(http.GET('/api/sums/power-from-time', { params: { query } }))}
      >
        {(g) => <Says bad={g.fits === false || g.odd !== ''}>{g.sentence}</Says>}
      </SumForm>
      <SumForm
        title="A range that should be"
        how="What it would use by the way, against what rides use."
        about={[]}
        inputs={[
          { key: 'range_m', label: 'km', quantity: 'm', symbol: 'km' },
          { key: 'usable_wh', label: 'Wh usable', quantity: 'wh', symbol: 'Wh' },
        ]}
        ask={(query) => ok(http.GET('/api/sums/range-claim', { params: { query } }))}
      >
        {(g) => <Says bad={g.verdict === 'impossible'}>{g.sentence}</Says>}
      </SumForm>
      <SumForm
        title="Minutes of two packs"
        how="At the same mean current; the rest of what makes them differ is left out."
        about={[]}
        inputs={[
          { key: 'first_ah', label: 'Ah of the first', quantity: 'ah', symbol: 'Ah' },
          { key: 'second_ah', label: 'Ah of the second', quantity: 'ah', symbol: 'Ah' },
          { key: 'mean_a', label: 'A on the mean', quantity: 'a', symbol: 'A' },
        ]}
        ask={(query) => ok(http.GET('/api/sums/runtime', { params: { query } }))}
      >
        {([first, second]) => (
          <Says>
            {`${first!.toFixed(0)} and ${second!.toFixed(0)} minutes: ${Math.abs(second! - first!).toFixed(0)} minutes ${second! > first! ? 'more' : 'less'} with the second.`}
          </Says>
        )}
      </SumForm>
      <SumForm
        title="What charge does to a run"
        how="Two charges at the start of the same run of this build; the difference is not the setup's."
        about={[bench.id, bench.version, ridden]}
        inputs={[
          { key: 'first', label: '% first', quantity: 'pct', symbol: '%' },
          { key: 'second', label: '% second', quantity: 'pct', symbol: '%' },
        ]}
        ask={({ first, second }) => ok(http.GET('/api/builds/{build_id}/charge-effect', { params: { path: { build_id: bench.id }, query: { first: first! / 100, second: second! / 100, protocol: ridden } } }))}
        more={
          <NativeSelect.Root w="wide">
            <NativeSelect.Field aria-label="Run that is compared" value={ridden} onChange={(e) => setProtocol(e.target.value)}>
              {protocols.map((p) => (
                <option key={p.name}>{p.name}</option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        }
      >
        {(g) => <Says bad={g.share === null}>{g.sentence}</Says>}
      </SumForm>
    </Flex>
  )
}
