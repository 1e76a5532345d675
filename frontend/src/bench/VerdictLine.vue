<script setup lang="ts">
import type { Verdict } from '@/api/client'
import { takeFocus } from './first'

const props = defineProps<{ verdict: Verdict; busy?: boolean; autofocus?: boolean; numbered?: boolean }>()
const emit = defineEmits<{ choose: [id: string] }>()
const words = { fine: 'Fine', look: 'Look', stop: 'Stop' }
const vFirst = {
  mounted: (el: HTMLElement) => {
    if (props.autofocus) takeFocus(el.querySelector('button'))
  },
}
</script>

<template>
  <div class="verdict" :class="verdict.level" role="status">
    <svg class="mark" viewBox="0 0 16 16" :aria-label="words[verdict.level]" role="img">
      <circle v-if="verdict.level === 'fine'" cx="8" cy="8" r="6" />
      <path v-else-if="verdict.level === 'look'" d="M8 1.500 15 14H1Z" />
      <path v-else d="M2 2h12v12H2Z" />
    </svg>
    <div>
      <p class="sentence">{{ verdict.sentence }}</p>
      <p v-if="verdict.rule" class="small soft reason">Rule {{ verdict.rule }}. {{ verdict.reason }}</p>
      <div v-if="verdict.choices?.length" v-first class="choices">
        <el-button
          v-for="(choice, i) in verdict.choices"
          :key="choice.id"
          :type="i === 0 ? 'primary' : undefined"
          :disabled="busy"
          @click="emit('choose', choice.id)"
        >
          <span v-if="numbered" class="digit figure">{{ i + 1 }}</span>{{ choice.label }}
        </el-button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.verdict {
  display: flex;
  gap: 0.7rem;
  margin: 0.4rem 0;
}
.mark {
  flex: none;
  width: 1rem;
  height: 1rem;
  margin-top: 0.2rem;
}
.fine .mark {
  fill: var(--green);
}
.look .mark {
  fill: var(--amber);
}
.stop .mark {
  fill: var(--red);
}
.stop .sentence {
  color: var(--red);
}
.sentence {
  font-weight: 600;
  margin: 0;
  overflow-wrap: anywhere;
}
.reason {
  margin: 0.1rem 0 0.4rem;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
  margin: 0.5rem 0 0.2rem;
}
.digit {
  font-size: 0.8em;
  opacity: 0.85;
  margin-right: 0.6em;
}
</style>
