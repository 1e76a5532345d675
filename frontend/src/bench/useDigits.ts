import { onScopeDispose, ref } from 'vue'
import { useKeys } from './keys'

/** How long after a digit another one makes a figure of it, in ms. */
const together = 350

/** Digits that choose among options. Two of them in a row are a figure that somebody types without
 * having looked up: it chooses nothing, and `strayed` says what was not taken. */
export function useDigits(most: number, choose: (index: number) => void) {
  const strayed = ref('')
  let typed = ''
  let timer: ReturnType<typeof setTimeout> | undefined

  function press(character: string) {
    typed += character
    clearTimeout(timer)
    timer = setTimeout(() => {
      const digit = Number(typed)
      strayed.value = typed.length > 1 ? typed : ''
      typed = ''
      if (strayed.value === '' && digit >= 1 && digit <= most) choose(digit - 1)
    }, together)
  }
  useKeys(
    [...'123456789', '0', '.', ','].map((key) => ({
      key,
      does: Number(key) >= 1 && Number(key) <= most ? `choice ${key} of the step at hand` : '',
      act: () => press(key),
    })),
  )
  onScopeDispose(() => clearTimeout(timer))

  return strayed
}
