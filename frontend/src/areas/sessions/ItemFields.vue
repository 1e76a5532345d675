<script setup lang="ts">
import type { SessionNeed } from '@/api/client'
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { glassNames, type ItemTyped } from './plan'

/** One liquid of a session: what it is, what a trial takes, and what it is used from. */
defineProps<{ problem: (field: string) => string; need?: SessionNeed; names: string[] }>()
const emit = defineEmits<{ leave: [] }>()
const item = defineModel<ItemTyped>({ required: true })
const listId = `liquids-${item.value.id}`
const allowances = [
  ['spare', 'To spare, mL'],
  ['rinsing', 'Rinsing, mL'],
  ['stays', 'Stays in the glass, mL'],
  ['other', 'Besides, mL'],
] as const
/** As proposed, where the session has no figure of its own. */
const proposed = (need: SessionNeed | undefined, id: string) => {
  const line = need?.lines.find((l) => l.id === id)
  return line && !line.set ? String(Number(line.mL.toPrecision(3))) : ''
}
</script>

<template>
  <fieldset class="item">
    <legend class="visually-hidden">{{ item.name || 'A liquid' }}</legend>
    <div class="wide">
      <label :for="`${listId} name`">Liquid</label>
      <el-input
        :id="`${listId} name`"
        v-model="item.name"
        :list="listId"
        maxlength="120"
        placeholder="sodium hydroxide"
      />
      <datalist :id="listId"><option v-for="name in names" :key="name" :value="name" /></datalist>
      <p class="problem small">{{ problem('name') }}</p>
    </div>
    <TextField v-model="item.concentration" label="Strength" :max="40" :problem="problem('concentration')" />
    <TextField v-if="item.pH || /buffer/i.test(item.name)" v-model="item.pH" label="pH" :problem="problem('pH')" />
    <TextField v-model="item.each" label="Each time" :problem="problem('each')" />
    <TextField v-model="item.times" label="Times for a group" :problem="problem('times')" />
    <SelectField v-model="item.glass" label="Out of" :options="glassNames" :problem="problem('glass')" />
    <p class="all">
      <el-checkbox v-model="item.standardised" label="its strength must be known" />
      <el-button link type="primary" @click="emit('leave')">Take it out</el-button>
    </p>
    <details class="all">
      <summary>Glass and allowances{{ need ? `: ${need.sentence}` : '' }}</summary>
      <div class="item folded">
        <TextField
          v-if="item.glass"
          v-model="item.size"
          label="One holds"
          placeholder="usual size"
          :problem="problem('size')"
        />
        <TextField v-if="item.glass" v-model="item.pieces" label="A group has" :problem="problem('pieces')" />
        <TextField
          v-for="[id, label] in allowances"
          :key="id"
          :model-value="item.allowances[id] ?? ''"
          :label="label"
          :placeholder="proposed(need, id)"
          :problem="problem(`allowances/${id}`)"
          @update:model-value="(text: string) => (item.allowances = { ...item.allowances, [id]: text })"
        />
      </div>
      <ul v-if="need" class="small soft">
        <li v-for="line in need.lines" :key="line.id">
          {{ line.why }}: {{ line.mL }} mL{{ line.rule ? ` (rule ${line.rule})` : '' }}
        </li>
      </ul>
    </details>
  </fieldset>
</template>

<style scoped>
.item {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(7.5rem, 1fr));
  gap: 0.1rem 0.8rem;
  border: 0;
  border-top: 1px solid var(--line);
  margin: 0;
  padding: 0.6rem 0;
}
.item.folded {
  border: 0;
}
.wide,
.all {
  grid-column: 1 / -1;
}
.all {
  display: flex;
  flex-wrap: wrap;
  gap: 0 1.2rem;
  align-items: center;
  margin: 0;
}
details.all {
  display: block;
}
</style>
