import { ref } from 'vue'

/** The clock of this device may be wrong: what happens at the bench is timed by that of
 * the server. Its answers tell the time to a second; a smaller difference is let be. */
const letBe = 3000
/** An answer that took longer says little. */
const promptly = 2000
const saidKey = 'vialbench-clock-said'

let ahead = 0 // of this device before the server, in ms

/** How the clock of this device is wrong, said until it is understood, once in a session; empty when
 * it is right. */
export const clockSays = ref('')

/** The time now, by the clock of the server. */
export const now = () => new Date(Date.now() - ahead)

/** Learns the time from an answer to what was asked at a time. */
export function learn(response: Response, asked: number) {
  const told = Date.parse(response.headers.get('Date') ?? '')
  const took = Date.now() - asked
  if (Number.isNaN(told) || took > promptly) return
  const difference = Date.now() - took / 2 - (told + 500)
  ahead = Math.abs(difference) > letBe ? difference : 0
  if (ahead === 0 || sessionStorage.getItem(saidKey)) return
  clockSays.value = `The clock of this device is ${inWords(Math.abs(ahead))} ${ahead > 0 ? 'fast' : 'slow'}. What you record is timed by the clock of the server; set this one right all the same.`
}

/** Takes what was said about the clock away, for this session. */
export function understood() {
  sessionStorage.setItem(saidKey, '1')
  clockSays.value = ''
}

function inWords(ms: number): string {
  const seconds = Math.round(ms / 1000)
  for (const [unit, size] of [
    ['day', 86400],
    ['hour', 3600],
    ['minute', 60],
  ] as const) {
    const n = Math.round(seconds / size)
    if (seconds >= 2 * size) return `about ${n} ${unit}s`
  }
  return `${seconds} seconds`
}
