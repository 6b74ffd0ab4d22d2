// The throttle's curve over what each share of the torque pushes at a speed.

/** y between the points of a line that climbs by x; its ends go on level. */
const along = (line: [number, number][], x: number): number => {
  const i = line.findIndex(([at]) => at >= x)
  if (i <= 0) return line[i === 0 ? 0 : line.length - 1]![1]
  const [[x0, y0], [x1, y1]] = [line[i - 1]!, line[i]!]
  return x1 === x0 ? y1 : y0 + ((y1 - y0) * (x - x0)) / (x1 - x0)
}

/** Share of the torque at a twist. */
export const curveShare = (points: [number, number][], twist: number): number => along(points, twist)

/** Thrust (N) of a share of the torque; thrusts: by even steps of the share from none to all. */
export const thrustOf = (thrusts: number[], share: number): number => along(thrusts.map((n, i) => [i / (thrusts.length - 1), n]), share)

/** The share whose thrust is nearest. Where more torque pushes no more, the room above the line, up to `most`, stands for
 * the shares that are left. */
export const shareFor = (thrusts: number[], most: number, thrust: number): number => {
  const top = Math.max(...thrusts)
  const last = thrusts.length - 1
  const full = thrusts.findIndex((n) => n >= top * 0.999) / last
  if (thrust >= top) return most > top && full < 1 ? Math.min(1, full + ((thrust - top) / (most - top)) * (1 - full)) : 1
  const i = thrusts.findIndex((n) => n >= thrust)
  if (i <= 0) return 0
  return (i - 1 + (thrust - thrusts[i - 1]!) / (thrusts[i]! - thrusts[i - 1]!)) / last
}
