const STEPS = ['bytes', 'kB', 'MB', 'GB', 'TB']

/** Bytes as somebody would say them. */
export function sizeInWords(bytes: number): string {
  const step = Math.min(STEPS.length - 1, Math.max(0, Math.floor(Math.log10(Math.max(1, bytes)) / 3)))
  const value = bytes / 1000 ** step
  return `${value.toLocaleString(undefined, { maximumFractionDigits: value < 10 && step ? 1 : 0 })} ${STEPS[step] ?? ''}`
}
