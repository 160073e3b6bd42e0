import type { Schemas } from '@/api/client'

export type Mark = Schemas['PictureMarkRequest']
export type Tool = Mark['kind']
export interface Place {
  x: number
  y: number
}

export const TOOLS: Record<Tool, string> = {
  arrow: 'Arrow',
  ring: 'Ring',
  words: 'Words',
  cylinder: 'Cylinder',
}
/** Of the picture's width: less is a slip of the finger. */
const SHORTEST = 0.01

/** Where on a picture a pointer is, as shares of its width and height, never outside. */
export function placeOn(box: DOMRect, pointer: { clientX: number; clientY: number }): Place {
  const within = (share: number) => Math.round(1e5 * Math.min(1, Math.max(0, share))) / 1e5
  return {
    x: within((pointer.clientX - box.left) / box.width),
    y: within((pointer.clientY - box.top) / box.height),
  }
}

/** The mark that a stroke from one place to another draws; null where it is too short to be meant. */
export function stroke(tool: 'arrow' | 'ring', from: Place, to: Place): Mark | null {
  if (Math.hypot(to.x - from.x, to.y - from.y) < SHORTEST) return null
  return { kind: tool, ...from, to_x: to.x, to_y: to.y }
}

/** Corners of an arrow's head, in the units of the drawing, three parts of a hundred long. */
export function arrowHead(mark: Mark, width: number, height: number): string {
  const tip = { x: (mark.to_x ?? 0) * width, y: (mark.to_y ?? 0) * height }
  const angle = Math.atan2(tip.y - mark.y * height, tip.x - mark.x * width)
  const long = 0.03 * Math.max(width, height)
  const corner = (turn: number) =>
    `${(tip.x - long * Math.cos(angle + turn)).toFixed(1)},${(tip.y - long * Math.sin(angle + turn)).toFixed(1)}`
  return `${corner(0.45)} ${tip.x.toFixed(1)},${tip.y.toFixed(1)} ${corner(-0.45)}`
}

/** Half axes of a ring, from its middle to a corner of what it goes around. */
export function ringAxes(mark: Mark, width: number, height: number) {
  const half = (share: number, whole: number) =>
    Math.max(0.012 * Math.max(width, height), Math.abs(share) * whole)
  return {
    rx: half((mark.to_x ?? 0) - mark.x, width),
    ry: half((mark.to_y ?? 0) - mark.y, height),
  }
}
