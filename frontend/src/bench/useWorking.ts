import { ref, type Ref } from 'vue'
import { sentence, type WorkingLine } from '@/api/client'
import { latest } from '@/api/latest'
import { useKeys } from './keys'

export interface Working {
  title: string
  lines: WorkingLine[]
}

/** The working of a figure beside the sheet: "=" opens that of the main figure and
 * closes whichever is open. An answer that comes after the panel was closed, or
 * after a later question, is dropped. */
export function useWorking(
  main: () => string,
  load: (figure: string) => Promise<Working | undefined>,
  trouble: Ref<string>,
) {
  const working = ref<Working>()
  let asked: string | undefined
  const question = latest()

  async function explain(figure: string) {
    asked = figure
    const current = question()
    try {
      const got = await load(figure)
      if (!current()) return
      working.value = got
      if (!got) asked = undefined // nothing to explain here
    } catch (error) {
      if (current()) trouble.value = sentence(error)
    }
  }
  function close() {
    question()
    asked = undefined
    working.value = undefined
  }
  /** What is open is asked for again, because what it explains has changed. */
  const refresh = async () => {
    if (asked !== undefined) await explain(asked)
  }

  useKeys([
    {
      key: '=',
      does: 'working of the figure, and close it',
      act: () => (asked === undefined ? void explain(main()) : close()),
    },
    { key: 'escape', does: 'close the working', act: close },
  ])
  return { working, explain, refresh, close }
}
