<script setup lang="ts">
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, ask, sentence, type Kin } from '@/api/client'
import { layOut, type Place } from './tree'

/** Where a bottle comes from, from the solids on, and what else came from there, as a
 * drawn tree: each bottle with its value and the way to its run. */
const props = defineProps<{ id: string }>()
const family = ref<Kin[]>([])
const trouble = ref('')
const scroll = useTemplateRef('scroll')

async function look() {
  try {
    family.value = await ask(api.GET('/bottles/{id}/family', { params: { path: { id: props.id } } }))
    await nextTick()
    const here = scroll.value?.querySelector<HTMLElement>('.at')
    if (scroll.value && here) scroll.value.scrollLeft = here.offsetLeft + here.offsetWidth - scroll.value.clientWidth
  } catch (error) {
    trouble.value = sentence(error)
  }
}
onMounted(look)
watch(() => props.id, look)

const wide = 172
const apart = 36
const tall = 78
const places = computed(() => layOut(family.value))
const at = (p: Place) => ({ x: p.column * (wide + apart), y: p.row * tall })
const size = computed(() => ({
  width: Math.max(0, ...places.value.map((p) => at(p).x)) + wide,
  height: Math.max(0, ...places.value.map((p) => at(p).y)) + tall,
}))
const lines = computed(() => {
  const by = new Map(places.value.map((p) => [p.key, p]))
  return places.value.flatMap((p) =>
    p.from.flatMap((key) => {
      const source = by.get(key)
      if (!source) return []
      const a = { x: at(source).x + wide, y: at(source).y + tall / 2 }
      const b = { x: at(p).x, y: at(p).y + tall / 2 }
      return [`M${a.x} ${a.y}C${a.x + apart / 2} ${a.y} ${b.x - apart / 2} ${b.y} ${b.x} ${b.y}`]
    }),
  )
})
</script>

<template>
  <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
  <section v-if="family.length > 1">
    <h2>Where it comes from, and what came of it</h2>
    <div ref="scroll" class="scroll" tabindex="0" role="region" aria-label="Family of this bottle">
      <div class="tree" :style="{ width: `${size.width}px`, height: `${size.height}px` }">
        <svg :viewBox="`0 0 ${size.width} ${size.height}`" aria-hidden="true">
          <path v-for="d in lines" :key="d" :d="d" />
        </svg>
        <ol aria-label="Parentage">
          <li
            v-for="p in places"
            :key="p.key"
            :class="{ at: p.key === id, gone: p.kin && p.kin.state !== 'shelf', origin: !p.kin }"
            :style="{ left: `${at(p).x}px`, top: `${at(p).y}px`, width: `${wide}px`, height: `${tall - 12}px` }"
          >
            <template v-if="p.kin">
              <span class="small">
                <RouterLink :to="`/shelf/${p.kin.bottle.id}`" :title="p.label"
                  >bottle {{ p.kin.bottle.number }}</RouterLink
                >
                <RouterLink v-if="p.kin.runId" :to="`/runs/${p.kin.runId}`">its run</RouterLink>
                <span v-if="p.kin.from.length > 1" class="soft">poured together</span>
              </span>
              <span class="figure">{{ p.kin.bottle.text }}</span>
            </template>
            <span v-else class="small soft">{{ p.label }}</span>
          </li>
        </ol>
      </div>
    </div>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  padding: 3px;
}
.tree {
  position: relative;
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
svg {
  position: absolute;
  inset: 0;
}
path {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 1.5;
}
li {
  box-sizing: border-box;
  position: absolute;
  margin-top: 6px;
  border: 1px solid var(--line-strong);
  border-radius: 3px;
  background: var(--sheet);
  padding: 0.25rem 0.5rem;
  display: grid;
  align-content: center;
  overflow: hidden;
  font-size: 0.87rem;
  line-height: 1.3;
}
li span:first-child {
  display: flex;
  justify-content: space-between;
  gap: 0 0.6rem;
}
.origin {
  border-color: transparent;
  background: none;
  text-align: right;
}
.at {
  border: 2px solid var(--green);
  font-weight: 700;
}
.gone .figure {
  text-decoration: line-through;
}
.figure {
  font-size: 0.82rem;
}
</style>
