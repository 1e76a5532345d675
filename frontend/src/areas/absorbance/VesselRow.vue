<script setup lang="ts">
import { ref } from 'vue'
import type { AbsorbanceVessel, Choice } from '@/api/client'
import CorrectionHere from '@/bench/CorrectionHere.vue'
import ReadingCell from '@/bench/ReadingCell.vue'

/** A tube as a row of the table: what was read of it, and what may be done with it. */
defineProps<{ vessel: AbsorbanceVessel; offers: Choice[]; cells: boolean; busy?: boolean }>()
const emit = defineEmits<{ decide: [choice: string, text: string] }>()
const striking = ref(false)
const why = ref('')

function strike() {
  if (!why.value.trim()) return
  emit('decide', 'strike', why.value.trim())
  striking.value = false
}
function press(choice: string) {
  if (choice === 'strike') striking.value = !striking.value
  else emit('decide', choice, '')
}
</script>

<template>
  <tr :class="{ struck: vessel.struck }">
    <th scope="row">
      {{ vessel.name }}<span v-if="vessel.owner" class="soft">, {{ vessel.owner }}</span>
    </th>
    <td>{{ vessel.unknown ? '' : vessel.text.split(' ')[0] }}</td>
    <td v-if="cells">{{ vessel.cell }}</td>
    <td>
      <span v-for="r in vessel.readings" :key="r.fact" class="one">
        <ReadingCell :fact="r.fact" :what="vessel.name" :text="r.shown" />
      </span>
    </td>
    <td>
      <span v-for="r in vessel.readings" :key="r.fact" class="one">{{ r.aText }}</span>
    </td>
    <td>
      <span v-for="r in vessel.readings" :key="r.fact" class="one">{{ r.tText }}</span>
    </td>
    <td class="does no-print">
      <el-button
        v-for="o in offers"
        :key="o.id"
        link
        type="primary"
        size="small"
        :aria-label="o.label"
        :disabled="busy"
        @click="press(o.id)"
        >{{ o.id === 'strike' ? 'Strike' : 'Once more' }}</el-button
      >
    </td>
  </tr>
  <tr v-if="striking" class="no-print">
    <td colspan="7" class="why">
      <form @submit.prevent="strike">
        <label>Why it is struck<el-input v-model="why" maxlength="200" placeholder="a bubble" /></label>
        <el-button native-type="submit" :disabled="busy || !why.trim()">Strike it</el-button>
      </form>
      <p class="small soft">It stays in the table and in the drawing, as a ring.</p>
    </td>
  </tr>
  <tr v-if="vessel.struck">
    <td colspan="7" class="why small soft">Struck: {{ vessel.struck }}</td>
  </tr>
  <CorrectionHere :facts="vessel.readings.map((r) => r.fact)" :columns="7" />
</template>

<style scoped src="@/design/readings.css"></style>
<style scoped>
th[scope='row'] {
  text-align: left;
  color: var(--ink);
  overflow-wrap: anywhere;
}
.struck td,
.struck th {
  text-decoration: line-through;
  color: var(--ink-soft);
}
.struck .does {
  text-decoration: none;
}
.one {
  display: block;
}
.why {
  text-align: left;
  font-family: var(--text);
}
.why form {
  display: flex;
  gap: 0.7rem;
  align-items: end;
}
.why label {
  flex: 1;
}
.does {
  font-family: var(--text);
  white-space: nowrap;
}
</style>
