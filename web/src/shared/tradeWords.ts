import { useStorage } from '@vueuse/core'
import type { Schemas } from '@/api/client'

type TradeWord = Schemas['TradeWord']

/** A stretch of a text; one that is a word of the trade carries what it means. */
export interface Piece {
  text: string
  meaning?: string
}

/** Whoever has the words does not need them marked. */
export const explaining = useStorage('fair-witness-explaining', true)

const escaped = (form: string) => form.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** A text in pieces: the first mention of each word of the trade, and what lies between. */
export function inPieces(text: string, known: readonly TradeWord[]): Piece[] {
  const byForm = new Map(
    known.flatMap((word) => word.forms.map((form) => [form.toLowerCase(), word] as const)),
  )
  if (!byForm.size) return [{ text }]
  const longestFirst = [...byForm.keys()].sort((a, b) => b.length - a.length).map(escaped)
  const pieces: Piece[] = []
  const said = new Set<TradeWord>()
  let end = 0
  for (const found of text.matchAll(new RegExp(`(?<![\\w-])(?:${longestFirst.join('|')})(?![\\w-])`, 'gi'))) {
    const word = byForm.get(found[0].toLowerCase())
    if (!word || said.has(word)) continue
    said.add(word)
    if (found.index > end) pieces.push({ text: text.slice(end, found.index) })
    pieces.push({ text: found[0], meaning: word.meaning })
    end = found.index + found[0].length
  }
  if (end < text.length || !pieces.length) pieces.push({ text: text.slice(end) })
  return pieces
}
