import type uPlot from 'uplot'

/** Values per pixel from which a trace is drawn as upright bars: a stroked line that dense costs five times as much. */
const DENSE = 0.5
const THICK = 1.5

/** First and last index in view of rising times, with one neighbour on each side. */
function inView(times: ArrayLike<number>, from: number, to: number): [number, number] {
  const find = (limit: number) => {
    let [low, high] = [0, times.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if (times[middle]! < limit) low = middle + 1
      else high = middle
    }
    return low
  }
  return [Math.max(0, find(from) - 1), Math.min(times.length - 1, find(to))]
}

export function isDense(u: uPlot): boolean {
  const { min, max } = u.scales.x!
  if (min == null || max == null) return false
  const [first, last] = inView(u.data[0], min, max)
  return last - first > DENSE * u.bbox.width
}

/** Per pixel column a bar from the lowest to the highest value in it, joined to the column before. */
export function drawDense(u: uPlot, colour: string) {
  const times = u.data[0]
  const values = u.data[1] as ArrayLike<number> | undefined
  const { min, max } = u.scales.x!
  const { min: bottom, max: top } = u.scales.y!
  if (!values || min == null || max == null || bottom == null || top == null) return
  const context = u.ctx
  const { left, width, top: upper, height } = u.bbox
  const thick = THICK * devicePixelRatio
  const x = (t: number) => Math.round(left + (width * (t - min)) / (max - min))
  const y = (v: number) => upper + height * (1 - (v - bottom) / (top - bottom))
  context.save()
  context.beginPath()
  context.rect(left, upper, width, height)
  context.clip()
  context.fillStyle = colour
  const [first, last] = inView(times, min, max)
  let column = Number.NaN
  let [low, high] = [Infinity, -Infinity]
  /** The newest value, and the one the column before ended with. */
  let [newest, joint] = [Number.NaN, Number.NaN]
  const flush = () => {
    if (low > high) return
    if (!Number.isNaN(joint)) {
      low = Math.min(low, joint)
      high = Math.max(high, joint)
    }
    const from = y(high)
    context.fillRect(column, Math.round(from - thick / 2), 1, Math.max(1, Math.round(y(low) - from + thick)))
  }
  for (let i = first; i <= last; i++) {
    const value = values[i]!
    const place = x(times[i]!)
    if (place !== column) {
      flush()
      if (place > column + 1)
        context.fillRect(column + 1, Math.round(y(newest) - thick / 2), place - column - 1, Math.ceil(thick))
      column = place
      joint = newest
      ;[low, high] = [Infinity, -Infinity]
    }
    if (Number.isNaN(value)) continue
    if (value < low) low = value
    if (value > high) high = value
    newest = value
  }
  flush()
  context.restore()
}
