import { paint } from '../theme/paint'
import { T } from './svgtext'

/** A hex bolt head seen from above, with its washer. The state is drawn, not only coloured:
 * loose = dashed, snug = plain, marked = paint line across head and washer, broken = the line's
 * halves do not meet, stopped = filled, with a bar, failed = dashed, crossed out. */
export function Hex({ n, state, size = 52, current = false }: { n: number | string; state: string; size?: number; current?: boolean }) {
  const stopped = state === 'stopped'
  const failed = state === 'failed'
  const ink = stopped || failed ? paint('stop') : paint('ink')
  return (
    <svg width={size} height={size} viewBox="0 0 60 60" aria-hidden="true">
      <circle cx="30" cy="30" r="28" fill={current ? paint('choice.wash') : paint('sheet')} stroke={paint('rule.strong')} strokeWidth="1.2" />
      <path
        d="M19.5 11.8h21L51 30 40.5 48.2h-21L9 30z"
        fill={stopped ? paint('stop') : paint('sheet')}
        stroke={ink}
        strokeWidth="2.4"
        strokeDasharray={state === 'loose' || failed ? '4 4' : undefined}
      />
      {state === 'marked' && <path d="M37 23 55 13" stroke={paint('choice')} strokeWidth="6" />}
      {state === 'broken' && (
        <>
          <path d="M36 24 45 19" stroke={paint('choice')} strokeWidth="6" />
          <path d="M50.5 24.5 57 23" stroke={paint('choice')} strokeWidth="6" />
        </>
      )}
      <T
        x="30"
        y="38.5"
        textAnchor="middle"
        fontSize={24}
        fontWeight="600"
        fontFamily="'Saira Variable', sans-serif"
        fill={stopped ? paint('on-ink') : ink}
      >
        {n}
      </T>
      {failed && <path d="M14 46 46 14" stroke={paint('stop')} strokeWidth="3" />}
      {stopped && <path d="M17 43.5h26" stroke={paint('on-ink')} strokeWidth="2.5" />}
    </svg>
  )
}
