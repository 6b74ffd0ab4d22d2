import type { SVGProps } from 'react'

type TextProps = SVGProps<SVGTextElement>
type SpanProps = SVGProps<SVGTSpanElement>

// The reset sets fonts on every element, which beats SVG's own attributes: these set them as style.
export function T({ fontSize, fontWeight, fontFamily, style, ...rest }: TextProps) {
  return <text {...rest} style={{ fontSize, fontWeight, fontFamily, ...style }} />
}

export function TSpan({ fontSize, fontWeight, style, ...rest }: SpanProps) {
  return <tspan {...rest} style={{ fontSize, fontWeight, ...style }} />
}
