import { afterAll, afterEach } from 'vitest'

/** The server as a test wants it; the client takes hold of `fetch` when it is made, so this stands before it. */
type Server = (request: Request) => Response | Promise<Response>
const absent: Server = () => Promise.reject(new TypeError('No server in this test.'))
let server = absent

globalThis.fetch = async (input, init) =>
  server(
    new Request(
      new URL(String(input instanceof Request ? input.url : input), location.origin),
      input instanceof Request ? input : init,
    ),
  )

export function serve(wanted: Server): void {
  server = wanted
}
afterEach(() => {
  server = absent
})

/** What a component still meant to do later is not done in a page that is gone. */
const later = globalThis.setTimeout
const meant: ReturnType<typeof setTimeout>[] = []
globalThis.setTimeout = ((...wanted: Parameters<typeof setTimeout>) => {
  const timer = later(...wanted)
  meant.push(timer)
  return timer
}) as typeof setTimeout
afterAll(() => {
  meant.forEach((timer) => clearTimeout(timer))
})
