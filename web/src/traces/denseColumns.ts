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

/** What is to be seen where: a stretch of time and of values, and the pixels it fills. */
export interface Area {
  from: number
  to: number
  bottom: number
  top: number
  width: number
  height: number
}

/**
 * Per pixel column the rows a bar fills, from the lowest to the highest value in it and joined to the column before;
 * a column without a value between two that have one carries on the last. An empty column ends before it begins.
 */
export function bars(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  { from, to, bottom, top, width, height }: Area,
  thick: number,
): { begins: Int32Array; ends: Int32Array } {
  const begins = new Int32Array(width).fill(0)
  const ends = new Int32Array(width).fill(-1)
  const [first, last] = inView(times, from, to)
  const perSecond = width / (to - from)
  const perUnit = height / (top - bottom)
  let column = Number.NaN
  let [low, high] = [Infinity, -Infinity]
  /** The newest value, and the one the column before ended with. */
  let [newest, joint] = [Number.NaN, Number.NaN]
  function fill(at: number, lowest: number, highest: number) {
    if (at < 0 || at >= width) return
    const begin = Math.round((top - highest) * perUnit - thick / 2)
    const tall = Math.max(1, Math.round((highest - lowest) * perUnit + thick))
    begins[at] = Math.max(0, begin)
    ends[at] = Math.min(height, begin + tall) - 1
  }
  function flush() {
    if (low > high) return
    fill(column, joint < low ? joint : low, joint > high ? joint : high)
  }
  for (let i = first; i <= last; i++) {
    const value = values[i]!
    const place = Math.round((times[i]! - from) * perSecond)
    if (place !== column) {
      flush()
      if (!Number.isNaN(newest))
        for (let between = column + 1; between < place; between++) fill(between, newest, newest)
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
  return { begins, ends }
}

/** A canvas beside each plot: a thousand bars set as pixels cost a quarter of a thousand rectangles. */
interface Sheet {
  context: CanvasRenderingContext2D
  image: ImageData
  pixels: Uint32Array
}
const sheets = new WeakMap<uPlot, Sheet>()
function sheetOf(u: uPlot, width: number, height: number): Sheet | null {
  const had = sheets.get(u)
  if (had?.image.width === width && had.image.height === height) return had
  const canvas = document.createElement('canvas')
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) return null
  const image = context.createImageData(width, height)
  const made = { context, image, pixels: new Uint32Array(image.data.buffer) }
  sheets.set(u, made)
  return made
}

/** A colour as one pixel has it, whatever way it is written. */
const pixelOf = new Map<string, number>()
function pixel(colour: string, { context }: Sheet): number {
  let known = pixelOf.get(colour)
  if (known === undefined) {
    context.fillStyle = colour
    context.fillRect(0, 0, 1, 1)
    known = new Uint32Array(context.getImageData(0, 0, 1, 1).data.buffer)[0]!
    pixelOf.set(colour, known)
  }
  return known
}

/** Draw what the plot shows now as bars, clipped to its area. */
export function drawDense(u: uPlot, colour: string) {
  const values = u.data[1] as ArrayLike<number> | undefined
  const { min: from, max: to } = u.scales.x!
  const { min: bottom, max: top } = u.scales.y!
  if (!values || from == null || to == null || bottom == null || top == null) return
  const [width, height] = [Math.round(u.bbox.width), Math.round(u.bbox.height)]
  const sheet = sheetOf(u, width, height)
  if (!sheet) return
  const { begins, ends } = bars(
    u.data[0],
    values,
    { from, to, bottom, top, width, height },
    THICK * devicePixelRatio,
  )
  const ink = pixel(colour, sheet)
  sheet.pixels.fill(0)
  for (let column = 0; column < width; column++)
    for (let row = begins[column]!; row <= ends[column]!; row++) sheet.pixels[row * width + column] = ink
  sheet.context.putImageData(sheet.image, 0, 0)
  u.ctx.drawImage(sheet.context.canvas, Math.round(u.bbox.left), Math.round(u.bbox.top))
}
