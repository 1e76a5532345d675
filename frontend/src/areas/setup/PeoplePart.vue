<script setup lang="ts">
import './form.css'
import { ref } from 'vue'
import { api, ask, sentence, type Account } from '@/api/client'
import SelectField from '@/bench/SelectField.vue'
import { useForm } from '@/bench/useForm'
import { useLook } from '@/bench/useLook'

defineProps<{ mayChange: boolean }>()
const people = ref<Account[]>()
const roles = (['assistant', 'instructor'] as const).map((role) => [role, role] as const)
const { busy, says, fields, send, problem } = useForm()
const empty = () => ({ name: '', initials: '', login: '', password: '', role: 'assistant' as Account['role'] })
const draft = ref(empty())

const { trouble, look } = useLook(async () => {
  people.value = await ask(api.GET('/people'))
}, ['setup'])

async function add() {
  if (await send(() => ask(api.POST('/people', { body: draft.value })))) draft.value = empty()
}
async function change(person: Account, to: { role?: Account['role']; active?: boolean }) {
  trouble.value = ''
  try {
    await ask(api.PATCH('/people/{id}', { params: { path: { id: person.id } }, body: to }))
    await look()
  } catch (error) {
    trouble.value = sentence(error)
  }
}
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <table v-if="people" class="plain">
    <thead>
      <tr>
        <th>Name</th>
        <th>Initials</th>
        <th>Sign-in name</th>
        <th>Role</th>
        <th v-if="mayChange">Change</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in people" :key="p.id">
        <td>{{ p.name }}</td>
        <td>{{ p.initials }}</td>
        <td>{{ p.login }}</td>
        <td>{{ p.role }}{{ p.active ? '' : ', closed' }}</td>
        <td v-if="mayChange" class="actions">
          <el-button
            link
            type="primary"
            @click="change(p, { role: p.role === 'instructor' ? 'assistant' : 'instructor' })"
            >Make {{ p.role === 'instructor' ? 'assistant' : 'instructor' }}</el-button
          >
          <el-button link :type="p.active ? 'danger' : 'primary'" @click="change(p, { active: !p.active })">{{
            p.active ? 'Close the account' : 'Open it again'
          }}</el-button>
        </td>
      </tr>
    </tbody>
  </table>
  <form v-if="mayChange" class="setup-form" autocomplete="off" @submit.prevent="add">
    <h2>Make an account</h2>
    <label
      >Name<el-input v-model="draft.name" required maxlength="80" /><span class="problem">{{
        problem('/name')
      }}</span></label
    >
    <label
      >Initials for the record<el-input v-model="draft.initials" required maxlength="8" /><span class="problem">{{
        problem('/initials')
      }}</span></label
    >
    <label
      >Sign-in name<el-input v-model="draft.login" required maxlength="40" autocapitalize="none" /><span
        class="problem"
        >{{ problem('/login') }}</span
      ></label
    >
    <label
      >First password<el-input v-model="draft.password" type="password" required autocomplete="new-password" /><span
        class="problem"
        >{{ problem('/password') }}</span
      ></label
    >
    <SelectField v-model="draft.role" label="Role" :options="roles" />
    <p v-if="says && fields.size === 0" class="problem all" role="alert">{{ says }}</p>
    <div class="all"><el-button type="primary" native-type="submit" :disabled="busy">Make it</el-button></div>
  </form>
</template>
