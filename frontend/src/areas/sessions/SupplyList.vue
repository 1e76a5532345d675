<script setup lang="ts">
import type { SessionNeed, SessionSupply } from '@/api/client'

/** What is needed of each liquid and where it comes from, with the other ways to supply it. */
defineProps<{ needs: SessionNeed[]; supplies: SessionSupply[] }>()
const emit = defineEmits<{ choose: [item: string, from: string] }>()
</script>

<template>
  <ul class="supply">
    <li v-for="(need, i) in needs" :key="need.item" :class="{ short: supplies[i]?.short }">
      <strong>{{ need.title }}: </strong><span class="soft">{{ need.sentence }}</span>
      <p v-if="supplies[i]?.short" class="problem">{{ supplies[i]!.short }}</p>
      <p v-else>{{ supplies[i]?.options[supplies[i]!.chosen]?.sentence }}</p>
      <details v-if="(supplies[i]?.options.length ?? 0) > 1">
        <summary>Other ways</summary>
        <ul>
          <li v-for="option in supplies[i]!.options.filter((_, k) => k !== supplies[i]!.chosen)" :key="option.from">
            {{ option.sentence }}
            <el-button v-if="option.serves" link type="primary" @click="emit('choose', need.item, option.from)"
              >Take this</el-button
            >
          </li>
        </ul>
      </details>
    </li>
  </ul>
</template>

<style scoped>
.supply {
  list-style: none;
  margin: 0 0 1rem;
  padding: 0;
}
.supply > li {
  border-top: 1px solid var(--line);
  padding: 0.5rem 0;
  overflow-wrap: anywhere;
}
.supply p {
  margin: 0.1rem 0 0;
}
.supply > li.short {
  border-left: 5px solid var(--red);
  background: var(--red-tint);
  padding-left: 0.8rem;
}
</style>
