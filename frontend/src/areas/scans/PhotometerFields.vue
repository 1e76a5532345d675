<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type LabPhotometer } from '@/api/client'
import { figures } from '@/api/figures'
import TextField from '@/bench/TextField.vue'
import { useLive } from '@/bench/live'
import { useForm } from '@/bench/useForm'

/** A scan that a connected photometer takes: the blank first, at every wavelength, then the tube. */
const props = defineProps<{ photometer: LabPhotometer }>()
const range = defineModel<{ from: string; to: string; step: string }>({ required: true })
const emit = defineEmits<{ read: [x: number[], y: number[]] }>()
const { busy, says, problem, send } = useForm()
const blanked = ref(false)
const live = useLive()
live.follow(
  computed(() =>
    props.photometer.address
      ? { id: props.photometer.id, name: props.photometer.photometer.name, of: 'photometers' as const }
      : undefined,
  ),
)

const path = () => ({ params: { path: { id: props.photometer.id } } })
async function zero() {
  if (await send(() => ask(api.POST('/photometers/{id}/zero', { ...path(), body: { everywhere: true } }))))
    blanked.value = true
}
const scan = () =>
  send(async () => {
    const { x, y } = await ask(api.POST('/photometers/{id}/scan', { ...path(), body: figures(range.value) }))
    emit('read', x, y)
  })
</script>

<template>
  <TextField v-model="range.from" label="From, nm" :problem="problem('/from')" />
  <TextField v-model="range.to" label="To, nm" :problem="problem('/to')" />
  <TextField v-model="range.step" label="Every, nm" :problem="problem('/step')" />
  <p v-if="!photometer.address" class="soft all">
    {{ photometer.photometer.name }} is not connected. Its address stands under <em>Lab setup</em>,
    <em>Photometers</em>.
  </p>
  <div v-else class="all does">
    <output class="figure shown" aria-live="off">{{ live.reading?.text || '– – –' }}</output>
    <el-button :disabled="busy" @click="zero">Blank in the beam: set zero everywhere</el-button>
    <el-button type="primary" plain :disabled="busy || !blanked" @click="scan">Tube in the beam: scan it</el-button>
  </div>
  <p v-if="photometer.address && !blanked" class="small soft all">The blank comes first, at every wavelength.</p>
  <p v-if="says || live.reading?.says" class="problem small all" role="alert">{{ says || live.reading?.says }}</p>
</template>

<style scoped src="@/design/fields.css"></style>
<style scoped>
.does {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
}
.does .el-button {
  margin: 0;
}
.all {
  grid-column: 1 / -1;
}
.shown {
  min-width: 10ch;
  font-size: 1.4rem;
  font-weight: 700;
}
</style>
