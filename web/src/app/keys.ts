import { useEventListener, useStorage } from '@vueuse/core'
import { onScopeDispose } from 'vue'

/** One key and what it does; the list behind `?`. */
export interface KeyHint {
  keys: string
  does: string
}

type Action = (event: KeyboardEvent) => void

/** The latest binding of a key counts; when its component goes, the one before counts again. */
const actions = new Map<string, Action[]>()

/** True while somebody types or a dialog is open: keys never fire then. */
function typing(event: KeyboardEvent): boolean {
  const target = event.target instanceof Element ? event.target : null
  if (event.ctrlKey || event.metaKey || event.altKey) return true
  return !!target?.closest('input, textarea, select, [contenteditable], [role="dialog"], [role="listbox"]')
}

/** Single keys can be switched off: speech input and a bumped keyboard set them off unasked. */
export const keysOn = useStorage('fair-witness-keys', true)

/** Bind keys for as long as the calling component lives. */
export function useKeys(bindings: Record<string, Action>): void {
  for (const [key, action] of Object.entries(bindings))
    actions.set(key, [...(actions.get(key) ?? []), action])
  onScopeDispose(() => {
    for (const [key, action] of Object.entries(bindings))
      actions.set(
        key,
        (actions.get(key) ?? []).filter((a) => a !== action),
      )
  })
}

/** Listen once, at the root. `g` then a letter is one key: `g c`. */
export function listenForKeys(): void {
  let lead = ''
  useEventListener(document, 'keydown', (event: KeyboardEvent) => {
    if (!keysOn.value || typing(event)) return
    const focused = event.target instanceof Element && event.target.closest('button, a')
    if (event.key === 'Enter' && focused) return
    const name = lead ? `${lead} ${event.key}` : event.key
    lead = !lead && event.key === 'g' ? 'g' : ''
    const action = actions.get(name)?.at(-1)
    if (!action) return
    event.preventDefault()
    action(event)
  })
}

export const HINTS: readonly KeyHint[] = [
  { keys: '1 … 9 0', does: 'pick a cylinder' },
  { keys: 'Enter', does: 'open the traces of the first test that shows it' },
  { keys: 'n', does: 'go to the next test' },
  { keys: 'e', does: 'add evidence' },
  { keys: '/', does: 'search: cases, or the forms of readings' },
  { keys: 'g c', does: 'go to the cases' },
  { keys: 'g n', does: 'start a new case' },
  { keys: '[ ]', does: 'previous and next cycle in the traces' },
  { keys: '+ -', does: 'look closer or wider' },
  { keys: 'a b', does: 'place a cursor in the traces' },
  { keys: 'p', does: 'run the cycles one after the other, or hold' },
  { keys: 'l', does: 'scale of the rows: the same, wild ones cut off, each its own' },
  { keys: 'k', does: 'keep the capture at the bench' },
  { keys: 'g h', does: 'go to the bench' },
  { keys: 'g t', does: 'see how far to trust the tool' },
  { keys: 'g b', does: 'go to the board of this case' },
  { keys: 'g o', does: 'go to the owner’s sheet of this case' },
  { keys: 'g v', does: 'go to this visit' },
  { keys: 'g p', does: 'go to the pictures of this case' },
  { keys: 'd', does: 'day or night bay' },
  { keys: 'g j', does: 'go to the journal of this case' },
  { keys: '?', does: 'show this list' },
]
