import { inject, onBeforeUnmount, provide, type InjectionKey } from 'vue'

/** What one plot shows, enough to draw it again as a vector picture. */
export interface Panel {
  title: string
  across: readonly [number, number]
  acrossUnit: string
  up: readonly [number, number]
  height: number
  lines: readonly {
    x: ArrayLike<number>
    y: ArrayLike<number>
    tone: 'plain' | 'faint' | 'picked' | 'computed'
  }[]
  rules: readonly { at: number; words: string }[]
}
type Book = Map<symbol, () => Panel | null>
const BOOK: InjectionKey<Book> = Symbol('picture')

/** In the view: collects the panels of the plots in it, in the order they stand. */
export function providePicture(): () => Panel[] {
  const book: Book = new Map()
  provide(BOOK, book)
  return () => [...book.values()].map((panel) => panel()).filter((panel) => panel !== null)
}

/** In a plot: offers what it shows now. */
export function usePanel(panel: () => Panel | null) {
  const book = inject(BOOK, null)
  const me = Symbol('panel')
  book?.set(me, panel)
  onBeforeUnmount(() => book?.delete(me))
}

const WIDTH = 1200
const LEFT = 90
const HEAD = 54
const FOOT = 30
const TICKS = 6
const COLOURS = { plain: '#0b3d91', faint: '#9fb2d3', picked: '#b3261e', computed: '#14202b' }
const FONT = 'font-family="Atkinson Hyperlegible Next, Arial, sans-serif"'

const text = (words: string) =>
  words.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)

/** Round steps: 1, 2 or 5 times a power of ten. */
export function ticks(from: number, to: number): number[] {
  const rough = (to - from) / TICKS
  if (!(rough > 0)) return []
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = power * ([1, 2, 5].find((m) => m * power >= rough) ?? 10)
  const first = Math.ceil(from / step - 1e-9)
  const last = Math.floor(to / step + 1e-9)
  return Array.from({ length: last - first + 1 }, (_, i) => Number(((first + i) * step).toPrecision(12)))
}

function drawPanel(panel: Panel, top: number): string {
  const { across, up, height } = panel
  const wide = WIDTH - LEFT - 20
  const x = (v: number) => LEFT + (wide * (v - across[0])) / (across[1] - across[0])
  const y = (v: number) => top + 22 + (height - 22) * (1 - (v - up[0]) / (up[1] - up[0]))
  const parts = [
    `<text x="${LEFT}" y="${top + 14}" ${FONT} font-size="15" font-weight="700">${text(panel.title)}</text>`,
    `<clipPath id="c${top}"><rect x="${LEFT}" y="${top + 22}" width="${wide}" height="${height - 22}"/></clipPath>`,
  ]
  for (const tick of ticks(...up))
    parts.push(
      `<path d="M${LEFT} ${y(tick).toFixed(1)}h${wide}" stroke="#ddd"/>`,
      `<text x="${LEFT - 8}" y="${(y(tick) + 5).toFixed(1)}" text-anchor="end" ${FONT} font-size="14">${tick}</text>`,
    )
  for (const tick of ticks(...across))
    parts.push(
      `<path d="M${x(tick).toFixed(1)} ${top + 22}v${height - 22}" stroke="#ddd"/>`,
      `<text x="${x(tick).toFixed(1)}" y="${top + height + 18}" text-anchor="middle" ${FONT} font-size="14">` +
        `${tick} ${text(panel.acrossUnit)}</text>`,
    )
  for (const rule of panel.rules)
    if (rule.at >= across[0] && rule.at <= across[1])
      parts.push(
        `<path d="M${x(rule.at).toFixed(1)} ${top + 22}v${height - 22}" stroke="#333" stroke-dasharray="6 4"/>`,
        `<text x="${(x(rule.at) + 4).toFixed(1)}" y="${top + 36}" ${FONT} font-size="13">${text(rule.words)}</text>`,
      )
  for (const tone of ['faint', 'computed', 'plain', 'picked'] as const)
    for (const line of panel.lines) {
      if (line.tone !== tone) continue
      let path = ''
      for (let i = 0; i < line.x.length; i++) {
        const value = line.y[i]!
        if (!Number.isFinite(value) || line.x[i]! < across[0] || line.x[i]! > across[1]) continue
        path += `${path ? 'L' : 'M'}${x(line.x[i]!).toFixed(1)} ${y(value).toFixed(1)}`
      }
      parts.push(
        `<path d="${path}" fill="none" stroke="${COLOURS[tone]}" stroke-width="1.3" clip-path="url(#c${top})"/>`,
      )
    }
  parts.push(
    `<rect x="${LEFT}" y="${top + 22}" width="${wide}" height="${height - 22}" fill="none" stroke="#333"/>`,
  )
  return parts.join('\n')
}

/** The panels one under another as a vector picture, with words on top that say what it is. */
export function asSvg(panels: readonly Panel[], title: string, about: string): string {
  let top = HEAD
  const drawings = panels.map((panel) => {
    const drawing = drawPanel(panel, top)
    top += panel.height + FOOT
    return drawing
  })
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${top}" viewBox="0 0 ${WIDTH} ${top}">`,
    `<rect width="100%" height="100%" fill="#fff"/>`,
    `<text x="20" y="24" ${FONT} font-size="19" font-weight="700">${text(title)}</text>`,
    `<text x="20" y="44" ${FONT} font-size="14">${text(about)}</text>`,
    ...drawings,
    '</svg>',
  ].join('\n')
}

/** The same picture in points, twice as dense as a screen. */
export async function asPng(svg: string): Promise<Blob> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await image.decode()
  const sheet = document.createElement('canvas')
  sheet.width = 2 * image.width
  sheet.height = 2 * image.height
  sheet.getContext('2d')!.drawImage(image, 0, 0, sheet.width, sheet.height)
  return new Promise((resolve, reject) =>
    sheet.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.'))),
      'image/png',
    ),
  )
}

/** Hand a file to the person. */
export function handOver(blob: Blob, name: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
