import type { Schemas } from '@/api/client'

type Figure = Schemas['BesideFigure']

/** Who lies outside, and which way; nothing where nobody does. */
export function beyond(figure: Figure): string {
  const said = [
    figure.high.length ? `${figure.high.join(', ')} higher` : '',
    figure.low.length ? `${figure.low.join(', ')} lower` : '',
    figure.level ? `all alike ${figure.level === 'high' ? 'higher' : 'lower'}` : '',
  ]
  return said.filter(Boolean).join('; ')
}

/** A figure as finely as a technician reads one of its size. */
export function reading(value: number, usual: number): string {
  const size = Math.abs(usual)
  return value.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2)
}
