<script setup lang="ts">
import './form.css'
import { onMounted, ref } from 'vue'
import { api, ask, sentence, type Settings } from '@/api/client'
import { figure } from '@/api/figures'
import SelectField from '@/bench/SelectField.vue'
import { useForm } from '@/bench/useForm'

const props = defineProps<{ mayChange: boolean }>()
const settings = ref<Settings>()
const drafts = ref<Record<string, string>>({})
const trouble = ref('')
const saved = ref(false)
const { busy, says, fields, send, problem } = useForm()

function show(s: Settings) {
  settings.value = s
  drafts.value = Object.fromEntries(s.rules.map((r) => [r.id, String(s.thresholds[r.id] ?? r.threshold)]))
}
onMounted(async () => {
  try {
    show(await ask(api.GET('/settings', { params: { query: { rules: true } } })))
  } catch (error) {
    trouble.value = sentence(error)
  }
})

async function save() {
  const s = settings.value
  if (!s) return
  const thresholds: Record<string, number> = {}
  for (const rule of s.rules) {
    if (!rule.unit) continue
    const value = figure(drafts.value[rule.id] ?? '')
    if (value !== rule.threshold) thresholds[rule.id] = Number.isNaN(value) ? -1 : value
  }
  saved.value = await send(async () =>
    show(
      await ask(
        api.PUT('/settings', {
          body: { labName: s.labName, flaskClass: s.flaskClass, buoyancy: s.buoyancy, thresholds, version: s.version },
        }),
      ),
    ),
  )
}
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <form v-if="settings" @submit.prevent="save">
    <fieldset :disabled="!props.mayChange">
      <div class="setup-form">
        <label
          >Name of the lab, for labels<el-input v-model="settings.labName" required maxlength="80" /><span
            class="problem"
            >{{ problem('/labName') }}</span
          ></label
        >
        <SelectField
          v-model="settings.flaskClass"
          label="Flasks, unless said otherwise"
          :options="[
            ['A', 'class A, for standards'],
            ['B', 'class B, for teaching'],
          ]"
        />
        <el-checkbox v-model="settings.buoyancy" class="all"
          >correct masses for the buoyancy of the air (otherwise its size is counted in the uncertainty)</el-checkbox
        >
      </div>
      <table class="plain rules">
        <thead>
          <tr>
            <th>Rule</th>
            <th>Threshold</th>
            <th>Default</th>
            <th>Why, and the source</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="rule in settings.rules" :key="rule.id">
            <td>
              <span class="figure">{{ rule.id }}</span> {{ rule.title }}
            </td>
            <td class="set">
              <template v-if="rule.unit">
                <el-select v-if="rule.words" v-model="drafts[rule.id]" :aria-label="rule.title">
                  <el-option v-for="(word, i) in rule.words" :key="i" :value="String(i)" :label="word" />
                </el-select>
                <el-input
                  v-else
                  v-model="drafts[rule.id]"
                  class="figure"
                  inputmode="decimal"
                  :aria-label="`${rule.title}, ${rule.unit}`"
                />
                {{ rule.words ? '' : rule.unit }}
                <span class="problem small">{{ problem(`/thresholds/${rule.id}`) }}</span>
              </template>
              <span v-else class="soft">none</span>
            </td>
            <td :class="{ figure: !rule.words }">
              {{ rule.words?.[rule.threshold] ?? (rule.unit ? rule.threshold : '') }}
            </td>
            <td>
              {{ rule.why }} <span class="small soft">{{ rule.source }}.</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="says && fields.size === 0" class="problem" role="alert">{{ says }}</p>
      <p v-if="saved" role="status">The rules apply to new plans. Plans made before keep the rules of their day.</p>
      <el-button v-if="mayChange" type="primary" native-type="submit" :disabled="busy">Apply</el-button>
    </fieldset>
  </form>
</template>

<style scoped>
fieldset {
  min-width: 0;
  border: 0;
  padding: 0;
  margin: 0;
}
.rules {
  max-width: 70rem;
  margin-bottom: 1rem;
}
.set {
  min-width: 8rem;
}
.set .el-select {
  width: 13rem;
}
.set .el-input {
  width: 6rem;
}
@media (max-width: 760px) {
  .rules {
    overflow-x: auto;
  }
  .el-checkbox {
    height: auto;
    white-space: normal;
  }
}
</style>
