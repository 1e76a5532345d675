import { ref } from 'vue'
import { ProblemError, sentence } from '@/api/client'

/** Sending a form of the setup: busy while it is under way, problems beside their
 * fields, one sentence for all else. */
export function useForm() {
  const busy = ref(false)
  const says = ref('')
  const fields = ref(new Map<string, string>())

  async function send(act: () => Promise<unknown>): Promise<boolean> {
    busy.value = true
    says.value = ''
    fields.value = new Map()
    try {
      await act()
      return true
    } catch (error) {
      says.value = sentence(error)
      if (error instanceof ProblemError) fields.value = error.fields
      return false
    } finally {
      busy.value = false
    }
  }
  const problem = (field: string) => fields.value.get(field) ?? ''
  return { busy, says, fields, send, problem }
}
