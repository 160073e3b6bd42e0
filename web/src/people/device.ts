const BROWSERS: [RegExp, string][] = [
  [/Firefox\/\d+/, 'Firefox'],
  [/Edg\/\d+/, 'Edge'],
  [/Chrome\/\d+/, 'Chromium'],
  [/Safari\/\d+/, 'Safari'],
]
const SYSTEMS: [RegExp, string][] = [
  [/Android/, 'an Android device'],
  [/iPad/, 'an iPad'],
  [/iPhone/, 'an iPhone'],
  [/Windows/, 'Windows'],
  [/Macintosh/, 'a Mac'],
  [/Linux|X11/, 'Linux'],
]
const first = (of: [RegExp, string][], said: string) => of.find(([pattern]) => pattern.test(said))?.[1]

/** What a browser says of itself, as somebody would say it. */
export function deviceInWords(said: string): string {
  const browser = first(BROWSERS, said)
  const system = first(SYSTEMS, said)
  if (browser && system) return `${browser} on ${system}`
  return said || 'a browser that does not say what it is'
}
