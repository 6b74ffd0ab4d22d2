import { http, ok } from '../../api/client'
import { useWorkshop } from '../../ui/bench'
import { Says, SumForm } from '../../ui/SumForm'

/** How far the speed on the display is off: by a ride beside a receiver, or by what is set in it. */
export function DisplaySpeed() {
  const { bench } = useWorkshop()
  const ask = (query: Record<string, number>) => ok(http.GET('/api/builds/{build_id}/settings/display', { params: { path: { build_id: bench.id }, query } }))
  return (
    <>
      <SumForm
        title="What the display says of the speed"
        how="Held steady, beside a receiver or between two marks."
        about={[bench.id, bench.version]}
        inputs={[
          { key: 'shown_m_s', label: 'km/h shown', quantity: 'm_s', symbol: 'km/h' },
          { key: 'true_m_s', label: 'km/h measured', quantity: 'm_s', symbol: 'km/h' },
          { key: 'wheel_m', label: 'mm around, as set', quantity: 'm', symbol: 'mm', optional: true },
        ]}
        ask={ask}
      >
        {(d) => <Says bad={Math.abs(d.share) > 0.05}>{d.sentence}</Says>}
      </SumForm>
      <SumForm
        title="By what is set in it"
        how="What stays empty is taken as this bike's own."
        about={[bench.id, bench.version]}
        inputs={[
          { key: 'wheel_m', label: 'mm around', quantity: 'm', symbol: 'mm', optional: true },
          { key: 'ratio', label: 'ratio', quantity: 'ratio', symbol: '', optional: true },
          { key: 'pole_pairs', label: 'pole pairs', quantity: 'ratio', symbol: '', optional: true },
        ]}
        ask={ask}
      >
        {(d) => <Says bad={Math.abs(d.share) > 0.05}>{d.sentence}</Says>}
      </SumForm>
    </>
  )
}
