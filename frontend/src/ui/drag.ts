import type { PointerEvent } from 'react'

/** Handlers of a drawing in which something is dragged. Once it moves, the drawing holds the pointer:
 * a drag goes on outside its edge and ends where the button is let go, and a press without a move stays
 * a press on what lies under it. */
export function dragHandlers(dragging: boolean, follow: (e: PointerEvent<SVGSVGElement>) => void, drop: () => void) {
  return {
    onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
      if (!dragging) return
      if (!e.currentTarget.hasPointerCapture(e.pointerId)) e.currentTarget.setPointerCapture(e.pointerId)
      follow(e)
    },
    onPointerUp: drop,
    onPointerCancel: drop,
  }
}
