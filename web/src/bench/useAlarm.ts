import { watch } from 'vue'

const TONE_HZ = 880
const BEEPS = 3
const BEEP_S = 0.18

/** Sounds three times when something becomes true: eyes are on the engine, not on the screen. */
export function useAlarm(caught: () => boolean, make: () => AudioContext | null = sound) {
  watch(caught, (now, before) => {
    if (!now || before) return
    const audio = make()
    if (!audio) return
    for (let i = 0; i < BEEPS; i++) {
      const tone = audio.createOscillator()
      tone.frequency.value = TONE_HZ
      tone.connect(audio.destination)
      tone.start(audio.currentTime + 2 * i * BEEP_S)
      tone.stop(audio.currentTime + (2 * i + 1) * BEEP_S)
    }
  })
}

/** A browser without sound shows the alarm all the same. */
function sound(): AudioContext | null {
  return typeof AudioContext === 'undefined' ? null : new AudioContext()
}
