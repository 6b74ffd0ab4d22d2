import { useLayoutEffect, useState } from 'react'

/** Size of an element as laid out, whenever it comes; a sensible one before the first layout. */
export function useSize<T extends HTMLElement>(w = 640, h = 380) {
  const [el, ref] = useState<T | null>(null)
  const [size, setSize] = useState({ w, h })
  useLayoutEffect(() => {
    if (!el) return
    const read = () => {
      const box = el.getBoundingClientRect()
      if (box.width > 0 && box.height > 0) setSize({ w: Math.round(box.width), h: Math.round(box.height) })
    }
    read()
    const watch = new ResizeObserver(read)
    watch.observe(el)
    return () => watch.disconnect()
  }, [el])
  return { ref, ...size }
}
