import type { Directive } from 'vue'

/** Enter in a plain field of a question goes on to what is told: where it is taken to the bench. In a
 * list of choices Enter chooses. */
export const vOnward: Directive<HTMLElement, () => void> = {
  mounted: (el, { value: go }) => {
    el.addEventListener('keydown', (event) => {
      const field = event.target as HTMLElement
      if (event.key !== 'Enter' || event.ctrlKey || !field.matches('input:not([role=combobox])')) return
      event.preventDefault() // or the button that is gone to would be pressed by the same key
      go()
    })
  },
}
