<script setup lang="ts">
import { computed } from 'vue'
import type { DilutionAnswer } from '@/api/client'
import { spread } from '@/design/figure'
import { tint } from './tint'

/** The ladder: a row of vials from the stock on, drawn to scale by volume, with what
 * is taken on the arrows between them. The tint follows the logarithm of the
 * concentration; the figure below each says it in digits. */
const props = defineProps<{ answer: DilutionAnswer; stockText: string; picked: number; factors?: string[] }>()
const emit = defineEmits<{ pick: [tube: number]; factor: [stage: number, text: string] }>()

const tubes = computed(() => props.answer.ladder.tubes)
const largest = computed(() => Math.max(...tubes.value.map((t) => t.flask?.volume ?? t.taken + (t.solvent ?? 0))))
const height = (mL: number) => 34 + 48 * Math.cbrt(mL / largest.value)
const vials = computed(() =>
  tubes.value.map((t, i) => {
    const final = t.flask?.volume ?? t.taken + (t.solvent ?? 0)
    return {
      i,
      tube: t,
      tall: height(final),
      tint: tint(t.factor),
      taken: t.gramsText ? t.gramsText : t.taken > 0 ? `${Number(t.taken.toPrecision(5))} mL` : '',
      from: t.from < 0 ? 'of the stock' : `of ${tubes.value[t.from]!.label}`,
      to: t.flask ? `to ${final} mL` : `+ ${Number((t.solvent ?? 0).toPrecision(5))} mL solvent`,
      with: t.weighed
        ? `weighed on ${props.answer.request.balance?.name}`
        : t.with && t.taken > 0
          ? `${t.with.volume} mL ${t.with.kind}${t.times > 1 ? ` × ${t.times}` : ''}`
          : 'solvent alone',
    }
  }),
)
</script>

<template>
  <ol class="ladder" aria-label="Ladder">
    <li class="rung stock">
      <div class="how" />
      <svg viewBox="0 0 60 96" aria-hidden="true">
        <path d="M10 26h40v58a8 8 0 0 1-8 8H18a8 8 0 0 1-8-8Z" class="liquid" :style="{ opacity: 0.8 }" />
        <path d="M20 4h20v10l10 12v58a8 8 0 0 1-8 8H18a8 8 0 0 1-8-8V26l10-12Z" class="glass" />
      </svg>
      <strong class="figure">{{ stockText }}</strong>
      <span class="small soft figure">{{ answer.request.stock.unit }}</span>
      <span class="small soft">the stock</span>
    </li>
    <li v-for="v in vials" :key="v.i" class="rung">
      <div class="how">
        <strong class="figure">{{ v.taken }}</strong>
        <span v-if="v.taken" class="small soft">{{ v.from }}</span>
        <svg viewBox="0 0 70 12" class="arrow" aria-hidden="true">
          <path v-if="v.taken" d="M4 10 Q35 -6 62 7" />
          <path v-if="v.taken" d="M66 9 l-8 -1 l4 -5 Z" class="head" />
        </svg>
        <span class="small soft">{{ v.to }}</span>
      </div>
      <button
        type="button"
        :aria-pressed="picked === v.i"
        :aria-label="`Tube ${v.tube.label}: ${v.tube.concentration.text} ${v.tube.concentration.unit}`"
        @click="emit('pick', v.i)"
      >
        <svg viewBox="0 0 60 96" aria-hidden="true">
          <path
            :d="`M16 ${92 - v.tall * 0.62}H44V84a8 8 0 0 1-8 8H24a8 8 0 0 1-8-8Z`"
            class="liquid"
            :style="{ opacity: v.tint }"
          />
          <path
            :d="`M14 ${92 - v.tall}h32M16 ${92 - v.tall}V84a8 8 0 0 0 8 8h12a8 8 0 0 0 8-8V${92 - v.tall}`"
            class="glass"
          />
        </svg>
        <span v-if="v.tube.taken > 0" class="name">{{ v.tube.label }}</span>
      </button>
      <strong class="figure">{{ v.tube.taken > 0 ? v.tube.concentration.text : '0' }}</strong>
      <span class="small soft figure">{{ v.tube.taken > 0 ? spread(v.tube.concentration) : 'blank' }}</span>
      <span v-if="v.tube.taken > 0" class="small soft figure">{{ v.tube.concentration.unit }}</span>
      <label v-if="factors" class="small">
        1 in
        <input
          :value="factors[v.i]"
          :aria-label="`Factor of stage ${v.i + 1}`"
          maxlength="40"
          @input="emit('factor', v.i, ($event.target as HTMLInputElement).value)"
        />
      </label>
      <span v-if="v.tube.factor" class="small soft">1 in {{ Number(v.tube.factor.toPrecision(4)) }} in all</span>
      <span class="small soft with">{{ v.with }}</span>
    </li>
  </ol>
  <p class="small soft">± at k = 2. The tint follows the logarithm of the concentration: paler is weaker.</p>
</template>

<style scoped>
.ladder {
  list-style: none;
  padding: 0;
  margin: 0.6rem 0 0;
  display: flex;
  gap: 0.2rem;
  overflow-x: auto;
}
.rung {
  flex: 1 0 6.6rem;
  max-width: 9.5rem;
  display: grid;
  justify-items: center;
  align-content: start;
  text-align: center;
}
.how {
  min-height: 5.2rem;
  display: grid;
  justify-items: center;
  align-content: end;
}
.arrow {
  width: 4.4rem;
  height: 0.8rem;
}
.arrow path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
.arrow .head {
  fill: var(--ink);
}
.rung > svg,
button svg {
  width: 4.2rem;
  display: block;
}
button {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 3px solid transparent;
  padding: 0 0.6rem 0.2rem;
  cursor: pointer;
  position: relative;
}
button[aria-pressed='true'] {
  border-color: var(--green);
}
.name {
  position: absolute;
  left: 0;
  right: 0;
  bottom: 0.9rem;
  font-weight: 700;
}
.glass {
  fill: none;
  stroke: var(--glass);
  stroke-width: 1.8;
}
.liquid {
  fill: #4f8f7d;
}
label {
  margin: 0.15rem 0;
  white-space: nowrap;
}
input {
  width: 4rem;
  font-family: var(--mono);
  font-size: 0.93rem;
  border: 1px solid var(--line-strong);
  border-radius: 3px;
  padding: 0.2rem 0.3rem;
  background: var(--sheet);
  color: var(--ink);
}
.with {
  max-width: 7.5rem;
}
</style>
