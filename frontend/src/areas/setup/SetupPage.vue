<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { useSession } from '@/api/session'
import BalancesPart from './BalancesPart.vue'
import GlassPart from './GlassPart.vue'
import HistoryPart from './HistoryPart.vue'
import MetersPart from './MetersPart.vue'
import PhotometersPart from './PhotometersPart.vue'
import PeoplePart from './PeoplePart.vue'
import RecordsPart from './RecordsPart.vue'
import RulesPart from './RulesPart.vue'
import SubstancesPart from './SubstancesPart.vue'
import SystemsPart from './SystemsPart.vue'

const props = defineProps<{ part?: string }>()
const session = useSession()
const parts = [
  { key: 'substances', label: 'Substances', view: SubstancesPart },
  { key: 'systems', label: 'Acids and bases', view: SystemsPart },
  { key: 'glass', label: 'Glass', view: GlassPart },
  { key: 'balances', label: 'Balances', view: BalancesPart },
  { key: 'meters', label: 'pH meters', view: MetersPart },
  { key: 'photometers', label: 'Photometers', view: PhotometersPart },
  { key: 'rules', label: 'Name and rules', view: RulesPart },
  { key: 'people', label: 'People', view: PeoplePart },
  { key: 'records', label: 'In and out', view: RecordsPart },
  { key: 'history', label: 'Changes', view: HistoryPart },
]
const shown = computed(() => parts.find((p) => p.key === props.part) ?? parts[0]!)
const mayChange = computed(() => session.account?.role === 'instructor')
</script>

<template>
  <h1>Lab setup</h1>
  <nav class="tabs" aria-label="Parts of the setup">
    <RouterLink v-for="p in parts" :key="p.key" :to="`/setup/${p.key}`" :class="{ at: p.key === shown.key }">{{
      p.label
    }}</RouterLink>
  </nav>
  <p v-if="!mayChange" class="soft">Instructors change the setup; everyone can read it.</p>
  <component :is="shown.view" :may-change="mayChange" />
</template>
