<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import type { Circuit, Place } from './useEngineRecord'

/** Circuits by the pin, from the feed to the driver; the place that need not be unplugged is the one measured first. */
const wiring = defineModel<Circuit[]>({ required: true })
const PARTS = { injector: 'Injector', coil: 'Coil' }
const TEXTS = ['name', 'connector', 'pin', 'colour', 'fuse'] as const
const HEADS = { name: 'Place', connector: 'Connector', pin: 'Pin', colour: 'Wire colour', fuse: 'Fuse' }
const addCircuit = () =>
  (wiring.value = [
    ...wiring.value,
    { part: 'injector', cylinder: null, places: [{ name: '' }, { name: '' }] },
  ])
const addPlace = (circuit: Circuit) => circuit.places.push({ name: '' })
function move(circuit: Circuit, at: number, by: number) {
  const [place] = circuit.places.splice(at, 1)
  circuit.places.splice(at + by, 0, place as Place)
}
/** A part has one plug of its own. */
function isPart(circuit: Circuit, place: Place, on: boolean) {
  for (const other of circuit.places) other.is_part = on && other === place
}
</script>

<template>
  <section>
    <h3>Wiring by the pin</h3>
    <p class="small soft">
      From the feed to the driver. Tick what must be unplugged, and which place is the part’s own plug.
    </p>
    <div v-for="(circuit, c) in wiring" :key="c" class="circuit" :data-test="`circuit-${c}`">
      <div class="actions">
        <el-select v-model="circuit.part" aria-label="Circuit of" class="narrow">
          <el-option v-for="(words, part) in PARTS" :key="part" :value="part" :label="words" />
        </el-select>
        <el-input-number
          v-model="circuit.cylinder"
          :min="1"
          :max="16"
          :controls="false"
          :value-on-clear="null"
          placeholder="all cylinders"
          aria-label="Cylinder, or all"
        />
        <el-button @click="wiring = wiring.filter((_, i) => i !== c)">Take the circuit out</el-button>
      </div>
      <table>
        <thead>
          <tr class="small soft">
            <th v-for="key in TEXTS" :key="key">{{ HEADS[key] }}</th>
            <th>Unplug</th>
            <th>The part</th>
            <th>Minutes</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(place, i) in circuit.places" :key="i">
            <td v-for="key in TEXTS" :key="key">
              <el-input
                v-model="place[key]"
                :aria-label="`${HEADS[key]} ${i + 1}`"
                :data-test="`wire-${c}-${i}-${key}`"
              />
            </td>
            <td>
              <el-checkbox v-model="place.unplugs" :aria-label="`Place ${i + 1} must be unplugged`" />
            </td>
            <td>
              <el-checkbox
                :model-value="place.is_part === true"
                :aria-label="`Place ${i + 1} is the part's own plug`"
                :data-test="`wire-${c}-${i}-part`"
                @update:model-value="isPart(circuit, place, $event as boolean)"
              />
            </td>
            <td>
              <el-input-number
                v-model="place.minutes"
                :min="0"
                :max="480"
                :controls="false"
                :aria-label="`Minutes to place ${i + 1}`"
              />
            </td>
            <td>
              <el-button
                :disabled="!i"
                :aria-label="`Place ${i + 1} nearer the feed`"
                @click="move(circuit, i, -1)"
                >↑</el-button
              >
            </td>
          </tr>
        </tbody>
      </table>
      <el-button :data-test="`add-place-${c}`" @click="addPlace(circuit)">Another place</el-button>
    </div>
    <el-button data-test="add-circuit" @click="addCircuit">Add a circuit</el-button>
  </section>
</template>

<style scoped>
.circuit {
  padding: 8px 0 14px;
  border-bottom: 1px solid var(--rule);
  margin-bottom: 10px;
}
.narrow {
  width: 140px;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin: 8px 0;
}
th {
  text-align: left;
}
td {
  padding: 2px 6px 2px 0;
}
td .el-input-number {
  width: 76px;
}
.actions .el-input-number {
  width: 140px;
}
</style>
