import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, type ClassSheet } from '@/api/client'

/** The sheet of the group that is signed in, which its frame, its tasks and its runs show. */
export const useSheet = defineStore('sheet', () => {
  const sheet = ref<ClassSheet>()
  async function look() {
    sheet.value = await ask(api.GET('/class/sheet'))
  }
  async function raise(raised: boolean) {
    sheet.value = await ask(api.PUT('/class/hand', { body: { raised } }))
  }
  async function handIn(task: string, id: string, stated: string, note: string) {
    const params = { path: { id: task } }
    sheet.value = await ask(
      api.POST('/class/tasks/{id}/hand-ins', { params, body: { id, stated, ...(note.trim() ? { note } : {}) } }),
    )
  }
  async function setBench(bench: Required<ClassSheet['bench']>) {
    sheet.value = await ask(api.PUT('/class/bench', { body: bench }))
  }
  return { sheet, look, raise, handIn, setBench }
})
