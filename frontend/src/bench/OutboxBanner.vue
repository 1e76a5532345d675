<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { clockSays, understood } from '@/api/clock'
import { noConnection, useOutbox, wordsOf } from '@/api/outbox'
import { useSession } from '@/api/session'

const outbox = useOutbox()
const session = useSession()
const unsent = computed(() => outbox.ofMine.filter((l) => (l.trouble ?? noConnection) === noConnection))
const troubled = computed(() => outbox.ofMine.filter((l) => (l.trouble ?? noConnection) !== noConnection))
const asking = ref('') // the ID of the reading that may be thrown away

/** A sentence with its full stop. */
const ended = (text = '') => (/[.!?]$/.test(text) ? text : `${text}.`)
</script>

<template>
  <p v-if="unsent.length" class="banner" role="status">
    {{ noConnection }}
    {{ unsent.length === 1 ? '1 reading is kept here and goes' : `${unsent.length} readings are kept here and go` }}
    on record when it is back.
  </p>
  <section v-if="troubled.length" class="banner" role="status" aria-label="Readings not on record yet">
    <p v-for="letter in troubled" :key="letter.fact.id">
      <RouterLink :to="`/runs/${letter.runId}`">“{{ wordsOf(letter.fact) }}”</RouterLink> is kept here and sent again.
      {{ ended(letter.trouble) }}
      <template v-if="asking === letter.fact.id">
        Thrown away, it never goes on record.
        <el-button type="danger" plain @click="outbox.discard(letter)">Throw it away</el-button>
        <el-button link type="primary" @click="asking = ''">Keep it</el-button>
      </template>
      <el-button v-else link type="primary" @click="asking = letter.fact.id">Throw it away…</el-button>
    </p>
  </section>
  <p v-if="outbox.ofOthers.length" class="banner" role="status">
    {{
      outbox.ofOthers.length === 1
        ? '1 reading of somebody else waits'
        : `${outbox.ofOthers.length} readings of others wait`
    }}
    on this device until they sign in here.
    <template v-if="session.account?.role === 'instructor'">
      <el-button v-if="asking !== 'others'" link type="primary" @click="asking = 'others'">Throw away…</el-button>
      <template v-else>
        <el-button
          v-for="letter in outbox.ofOthers"
          :key="letter.fact.id"
          type="danger"
          plain
          @click="outbox.discard(letter)"
          >“{{ wordsOf(letter.fact) }}”</el-button
        >
        <el-button link type="primary" @click="asking = ''">Keep all</el-button>
      </template>
    </template>
  </p>
  <p v-if="outbox.refused" class="banner stop" role="alert">{{ outbox.refused }}</p>
  <p v-if="clockSays" class="banner" role="status">
    {{ clockSays }} <el-button link type="primary" @click="understood">Understood</el-button>
  </p>
</template>

<style scoped>
.banner {
  background: var(--amber-tint);
  border-left: 5px solid var(--amber);
  padding: 0.6rem 1rem;
}
.banner.stop {
  background: var(--red-tint);
  border-color: var(--red);
}
.banner {
  margin: 0 0 0.7rem;
}
.banner p {
  margin: 0.2rem 0;
}
.banner .el-button {
  margin-left: 0.6rem;
}
</style>
