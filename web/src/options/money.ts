/** A sum as people of this place write it, in the currency of the shop where it has set one. */
export function moneyInWords(sum: number | null, currency = ''): string {
  if (sum === null) return 'not priced'
  const shown = sum.toLocaleString(undefined, { minimumFractionDigits: 2, maximumFractionDigits: 2 })
  return currency ? `${shown} ${currency}` : shown
}

/** Prices that differ from what is kept; an emptied field takes one off. */
export function changedPrices(
  kept: readonly { item: string; amount: number | null }[],
  typed: Readonly<Record<string, number | null>>,
) {
  return kept
    .filter((line) => (typed[line.item] ?? null) !== line.amount)
    .map((line) => ({ item: line.item, amount: typed[line.item] ?? null }))
}
