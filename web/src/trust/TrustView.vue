<script setup lang="ts">
import { computed } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { whenInWords } from '@/shared/words'
import CalibrationPlot from './CalibrationPlot.vue'
import MinutesPlot from './MinutesPlot.vue'
import MissTable from './MissTable.vue'
import OwnRecord from './OwnRecord.vue'
import { between as tallied, percentOf } from './shares'

/** How often the answers were right, elsewhere and at home, how honest the chances were, and what the plan saves. */
const { data, problem, reload } = useLoaded('trust', 'study', (_key, signal) =>
  unwrap(client.GET('/api/trust/', { signal })),
)
const session = useSession()
const per = (share: Schemas['Share']) => percentOf(share.share)
const between = (share: Schemas['Share']) => tallied(share, 1)
const FIGURES = [
  { key: 'cylinder', words: 'Right cylinder' },
  { key: 'cylinder_visible', words: 'Right cylinder, where the tests taken could show it' },
  { key: 'cause', words: 'Right cause' },
  { key: 'fault', words: 'Right fault, where the tests taken can tell' },
  { key: 'sound_accused', words: 'A sound cylinder accused' },
  { key: 'healthy_accused', words: 'A sound vehicle accused' },
  { key: 'wrong_established', words: 'Called established, and wrong' },
] as const
const AT_MOST = ['sound_accused', 'healthy_accused', 'wrong_established']
function target(key: string): string {
  const wanted = data.value?.targets[key]
  if (wanted === undefined) return ''
  return `${AT_MOST.includes(key) ? 'at most' : 'at least'} ${(100 * wanted).toFixed(wanted < 0.1 ? 1 : 0)} %`
}
const ELSEWHERE = [
  { key: 'cylinder', words: 'Right cylinder, where the case can tell' },
  { key: 'cause', words: 'Right cause, where the case can tell' },
  { key: 'fault', words: 'Right fault, where the case can tell' },
  { key: 'sound_accused', words: 'A sound cylinder accused' },
  { key: 'healthy_accused', words: 'A sound vehicle accused' },
  { key: 'wrong_established', words: 'Called established, and wrong' },
] as const
const headline = computed(() =>
  data.value
    ? `On ${data.value.elsewhere.cases} cases it was not made with, it named the right cylinder in ${per(data.value.elsewhere.figures.cylinder)}.`
    : '',
)
const saved = computed(() => data.value?.saved ?? null)
</script>

<template>
  <div class="page trust">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <p class="small soft">How far to trust it</p>
      <h1 data-test="trust-headline">{{ headline }}</h1>
      <p class="soft">
        Version {{ data.elsewhere.version }}, on cases of another model of engines, faults and instruments,
        many of them with spoilt captures; which of its estimates it uses was chosen looking at them. Beside
        it stands its own simulator, in worlds that nothing was fitted on: other starters, pipes, sensors,
        sparks and hands. Your vehicles are neither. Ranges are 95 % intervals.
      </p>
      <div class="halves">
        <section>
          <h2>Engines it was not made with</h2>
          <table class="figures" data-test="elsewhere">
            <tbody>
              <tr v-for="figure in ELSEWHERE" :key="figure.key">
                <th>{{ figure.words }}</th>
                <td class="number">
                  <strong>{{ per(data.elsewhere.figures[figure.key]) }}</strong>
                  <span class="small soft">{{ between(data.elsewhere.figures[figure.key]) }}</span>
                </td>
              </tr>
            </tbody>
          </table>
        </section>
        <section>
          <h2>Simulated worlds, left out and known</h2>
          <table class="figures" data-test="figures">
            <thead>
              <tr class="small soft">
                <th></th>
                <td class="number">{{ data.worlds === 'left out' ? 'Left out' : 'This study' }}</td>
                <td class="number">Known</td>
              </tr>
            </thead>
            <tbody>
              <tr v-for="figure in FIGURES" :key="figure.key">
                <th>
                  {{ figure.words }}<span class="small soft">{{ target(figure.key) }}</span>
                </th>
                <td class="number">
                  <strong>{{ per(data.figures[figure.key]) }}</strong>
                  <span class="small soft">{{ between(data.figures[figure.key]) }}</span>
                </td>
                <td class="number soft known">{{ per(data.known.figures[figure.key]) }}</td>
              </tr>
            </tbody>
          </table>
          <p class="small soft">
            {{ data.own ? 'A study of this shop' : 'The study that ships' }}, version {{ data.version }},
            {{ whenInWords(data.made_at) }}: {{ data.vehicles.toLocaleString() }} vehicles as often ill as the
            table of priors says, faults from a trace to complete, one in four captured in a noisy bay. Known:
            {{ data.known.vehicles.toLocaleString() }} vehicles of the world the simulator grew up in.
          </p>
        </section>
      </div>

      <own-record v-if="session.state?.role === 'lead'" :study="data.figures" />

      <section>
        <h2>Chances said, and how often they were right</h2>
        <calibration-plot :calibration="data.calibration" :at-most="data.targets.calibration ?? 0.05" />
      </section>
      <section>
        <h2>Minutes to a right answer</h2>
        <p v-if="saved">
          The plan needs <strong>{{ Math.round(100 * saved.share) }} % fewer</strong> minutes for a right
          answer than the best fixed order, {{ saved.beside }}.
        </p>
        <minutes-plot :policies="data.policies" />
      </section>
      <div class="halves">
        <section>
          <h2>Where it was not right</h2>
          <miss-table :groups="data.faults" name="Fault" only-missed />
        </section>
        <section>
          <template v-if="data.combinations.length">
            <h2>By what was left out</h2>
            <miss-table :groups="data.combinations" name="Left out" />
          </template>
          <h2>By bay</h2>
          <miss-table :groups="data.levels" name="Noise" />
          <h2>By engine</h2>
          <miss-table :groups="data.engines" name="Engine" />
        </section>
      </div>
    </template>
    <p v-else-if="!problem" class="soft">Loading the study</p>
  </div>
</template>

<style scoped>
.trust h1 {
  margin: 2px 0 8px;
}
.halves {
  display: grid;
  /* Side by side where there is room for both. */
  grid-template-columns: repeat(auto-fit, minmax(min(440px, 100%), 1fr));
  gap: 10px 44px;
}
h2 {
  margin: 18px 0 6px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
}
th,
td {
  padding: 5px 0;
  vertical-align: top;
}
table.figures th {
  width: 50%;
  padding-right: 18px;
  font-weight: 600;
}
td.known {
  white-space: nowrap;
}
td strong {
  font-size: 1.25rem;
}
th span,
td span {
  display: block;
  font-weight: 400;
  font-family: var(--text);
}
@media (max-width: 899px) {
  td.known {
    white-space: normal;
  }
}
</style>
