<script setup lang="ts">
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { sentence } from '@/api/client'
import { useSession } from '@/api/session'

/** The sheet of a group is opened by the code on its card. */
const session = useSession()
const route = useRoute()
const router = useRouter()
const expired = computed(() => session.state === 'expired')
const code = ref(String(route.query.code ?? ''))
const busy = ref(false)
const says = ref('')
const panel = useTemplateRef<HTMLElement>('panel')
onMounted(() => panel.value?.querySelector<HTMLElement>(code.value ? 'button' : 'input')?.focus())

async function go() {
  busy.value = true
  says.value = ''
  try {
    await session.enterClass(code.value)
    if (!expired.value) await router.replace('/class')
  } catch (error) {
    says.value = sentence(error)
  } finally {
    busy.value = false
  }
  if (!says.value) return
  await nextTick()
  panel.value?.querySelector('input')?.select()
}
</script>

<template>
  <component :is="session.state === 'in' ? 'div' : 'main'" class="cover" :class="{ over: expired }">
    <form ref="panel" class="panel" @submit.prevent="go">
      <p class="name">Vial Bench</p>
      <h1>Open your group’s sheet</h1>
      <p v-if="expired" class="soft">The sheet was closed. What you typed is kept: enter the code again.</p>
      <label
        >The code on your card<el-input
          v-model="code"
          class="figure code"
          required
          maxlength="12"
          autocomplete="off"
          autocapitalize="characters"
          spellcheck="false"
      /></label>
      <p class="soft small">Six letters and figures, like K7M 3QX. There is no zero and no letter O.</p>
      <p v-if="says" class="problem" role="alert">{{ says }}</p>
      <p>
        <el-button type="primary" native-type="submit" :loading="busy" :disabled="!code.trim()"
          >Open the sheet</el-button
        >
      </p>
      <p v-if="session.state === 'out'" class="small">
        <RouterLink to="/today">Sign in with a name instead</RouterLink>
      </p>
    </form>
  </component>
</template>

<style scoped src="../account/cover.css"></style>
<style scoped>
.code {
  font-size: 1.5rem;
  --el-input-height: 3.2rem;
}
</style>
