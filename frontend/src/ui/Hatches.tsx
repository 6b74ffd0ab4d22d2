import type { JSX } from 'react'
import { chokePaint } from '../theme/paint'
import { CHOKES } from '../theme/tokens'

const MARKS: Record<string, JSX.Element> = {
  slash: <path d="M0 8 8 0M-2 2 2-2M6 10 10 6" />,
  back: <path d="M0 0 8 8M-2 6 2 10M6-2 10 2" />,
  cross: <path d="M0 0 8 8M8 0 0 8" />,
  lines: <path d="M0 2H8M0 6H8" />,
  posts: <path d="M2 0V8M6 0V8" />,
  dots: <path d="M2 2h.01M6 6h.01" strokeWidth="2.6" strokeLinecap="round" />,
  grid: <path d="M0 4H8M4 0V8" />,
  wide: <path d="M0 8 8 0" strokeWidth="3" />,
  zig: <path d="M0 6 4 2 8 6" fill="none" />,
  plain: <path d="M0 4H8" strokeDasharray="2 2" />,
}

/** Hatch patterns of the choke classes, once per page; they tell the classes apart without colour. */
export function Hatches() {
  return (
    <svg width="0" height="0" aria-hidden="true" style={{ position: 'absolute' }}>
      <defs>
        {Object.entries(CHOKES).map(([name, c]) => (
          <pattern key={name} id={`hatch-${name}`} width="8" height="8" patternUnits="userSpaceOnUse">
            <rect width="8" height="8" fill={chokePaint(name)} opacity="0.18" />
            <g stroke={chokePaint(name)} strokeWidth="1.4">
              {MARKS[c.hatch]}
            </g>
          </pattern>
        ))}
      </defs>
    </svg>
  )
}
