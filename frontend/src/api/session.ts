import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, whenUnauthorized, type Account } from './client'

/** Who is signed in. When a session ends in the middle of work the page stays as it
 * is, and a sign-in panel lies over it until somebody has signed in again. */
export const useSession = defineStore('session', () => {
  const account = ref<Account>()
  const state = ref<'unknown' | 'setup' | 'out' | 'in' | 'expired'>('unknown')

  whenUnauthorized(() => {
    if (state.value === 'in') state.value = 'expired'
  })

  async function look() {
    const now = await ask(api.GET('/setup'))
    account.value = now.account
    state.value = now.needed ? 'setup' : now.account ? 'in' : 'out'
  }

  function entered(who: Account) {
    account.value = who
    state.value = 'in'
  }

  async function signIn(login: string, password: string) {
    entered(await ask(api.POST('/session', { body: { login, password } })))
  }

  /** Opens the sheet of a group by its code. */
  async function enterClass(code: string) {
    entered(await ask(api.POST('/class/sign-in', { body: { code } })))
  }

  async function createFirst(who: { name: string; initials: string; login: string; password: string; word: string }) {
    entered(await ask(api.POST('/setup', { body: who })))
  }

  async function signOut() {
    await ask(api.DELETE('/session'))
    account.value = undefined
    state.value = 'out'
  }

  async function signOutEverywhere() {
    await ask(api.DELETE('/sessions'))
    account.value = undefined
    state.value = 'out'
  }

  return { account, state, look, signIn, enterClass, createFirst, signOut, signOutEverywhere }
})
