import type { Directive } from 'vue'

/** Puts the cursor into the first field or button of what has just appeared, unless told
 * false. */
export const vFirst: Directive<HTMLElement, boolean | undefined> = {
  mounted: (el, { value }) => {
    if (value !== false) el.querySelector<HTMLElement>('input, button')?.focus()
  },
}
