import type { Directive } from 'vue'

const typesIn = (el: Element | null) =>
  el instanceof HTMLTextAreaElement || (el instanceof HTMLInputElement && !['checkbox', 'radio'].includes(el.type))

/** Puts the cursor where it is wanted next, with what stands there selected; not while somebody types in
 * another field. */
export function takeFocus(el: HTMLElement | null | undefined) {
  if (typesIn(document.activeElement)) return
  el?.focus()
  if (el instanceof HTMLInputElement) el.select()
}

/** Puts the cursor into the first field or button of what has just appeared, unless told
 * false: it takes the place of what the hands were at, like an instrument that was connected. */
export const vFirst: Directive<HTMLElement, boolean | undefined> = {
  mounted: (el, { value }) => {
    if (value !== false) el.querySelector<HTMLElement>('input, button')?.focus()
  },
}
