import { paint } from '../../theme/paint'
import { useWorkshop } from '../../ui/bench'
import { Plot } from '../../ui/Plot'
import { Missing, Workbench } from '../../ui/Workbench'

/** Thrust over road speed with the ribbon that names the choke at every speed. */
export function Drive() {
  const { bench, prefs } = useWorkshop()
  const d = bench.assessment.drawings.drive
  return (
    <Workbench parts={['drive.controller', 'drive.motor', 'pack', 'road']}>
      {d ? (
        <Plot
          prefs={prefs}
          label="Thrust over road speed with the choke at each speed"
          x={{ quantity: 'm_s', label: 'road speed' }}
          y={{ quantity: 'n', label: 'thrust at the tyre' }}
          lines={[
            { label: 'road takes', x: d.speed_m_s, y: d.load_n, colour: paint('ink.soft'), dash: '7 4', labelAt: 0.55 },
            { label: 'once the cells settle', x: d.speed_m_s, y: d.held_n, colour: paint('ink'), width: 1.5, dash: '2 3', labelAt: 0.78 },
            { label: 'thrust', x: d.speed_m_s, y: d.thrust_n, colour: paint('ink'), width: 3, labelAt: 0.3 },
          ]}
          ribbon={d.ribbon}
          verticals={d.top_speed_m_s > 0 ? [{ at: d.top_speed_m_s, label: 'top speed' }] : []}
        />
      ) : (
        <Missing />
      )}
    </Workbench>
  )
}
