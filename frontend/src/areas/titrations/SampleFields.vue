<script setup lang="ts">
import SelectField from '@/bench/SelectField.vue'
import TextField from '@/bench/TextField.vue'
import { isDissolved, maySettle, type Typed } from './question'

/** What is in the flask, and how it is taken. */
defineProps<{
  samples: [string, string][]
  solids: [string, string][]
  flasks: [string, string][]
  back: boolean
  unknown: boolean
  problem: (...fields: string[]) => string
}>()
const typed = defineModel<Typed>({ required: true })
</script>

<template>
  <fieldset>
    <legend>In the flask</legend>
    <SelectField
      v-if="typed.aim === 'determine'"
      v-model="typed.way"
      label="Titrated"
      :options="[
        ['direct', 'directly'],
        ['back', 'back: an excess first'],
      ]"
      :problem="problem('/back')"
    />
    <SelectField
      v-model="typed.by"
      label="Sample taken"
      :options="[
        ['pipette', 'by pipette'],
        ['burette', 'from a second burette'],
        ['cylinder', 'by cylinder'],
        ['weighed', 'weighed'],
      ]"
      :problem="problem('/by')"
    />
    <SelectField
      v-if="typed.aim === 'determine' && typed.by !== 'weighed'"
      v-model="typed.sampleIs"
      label="It is"
      :options="[
        ['solution', 'a solution'],
        ['solid', 'a solid, made up to a flask'],
      ]"
      :problem="problem('/dissolved')"
    />
    <template v-if="typed.by === 'weighed' || isDissolved(typed)">
      <SelectField
        v-model="typed.substance"
        label="Solid"
        class="wide"
        :options="solids"
        :problem="problem('/substance', '/sample')"
      />
      <TextField
        v-model="typed.mass"
        :label="typed.by === 'weighed' ? 'About, g each' : 'About, g of it'"
        :problem="problem('/mass', '/dissolved/mass')"
      />
      <SelectField
        v-if="isDissolved(typed)"
        v-model="typed.flask"
        label="Made up to"
        :options="flasks"
        :problem="problem('/dissolved/flask')"
      />
    </template>
    <template v-if="typed.by !== 'weighed'">
      <SelectField
        v-if="!back && !isDissolved(typed)"
        v-model="typed.sampleBottle"
        label="Sample"
        class="wide"
        :options="samples"
        :problem="problem('/sampleBottle', unknown ? '' : '/sample')"
      />
      <TextField v-model="typed.volume" label="Volume, mL each" :problem="problem('/volume')" />
    </template>
    <TextField
      v-if="unknown"
      v-model="typed.name"
      words
      label="What it is called"
      placeholder="Pond water, north bank"
      :problem="problem('/sample')"
    />
    <template v-if="typed.aim === 'determine' && typed.by !== 'weighed'">
      <TextField
        v-model="typed.diluted"
        :label="isDissolved(typed) ? 'Diluted further, times' : 'Diluted before, times'"
        placeholder="10"
        :problem="problem('/diluted')"
      />
      <TextField
        v-if="!isDissolved(typed)"
        v-model="typed.density"
        label="Density, g/mL"
        placeholder="for % w/w"
        :problem="problem('/density')"
      />
    </template>
    <SelectField
      v-if="maySettle(typed)"
      v-model="typed.settles"
      label="What is found goes onto its bottle"
      :options="[
        ['no', 'no, into the record alone'],
        ['yes', 'yes, the bottle takes it over'],
      ]"
      :problem="problem('/settles')"
    />
  </fieldset>
</template>

<style scoped src="@/design/fields.css"></style>
