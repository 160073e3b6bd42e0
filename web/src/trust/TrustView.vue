<script setup lang="ts">
import { computed } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { whenInWords } from '@/shared/words'
import CalibrationPlot from './CalibrationPlot.vue'
import MinutesPlot from './MinutesPlot.vue'
import MissTable from './MissTable.vue'

/** How often the answers were right, elsewhere and at home, how honest the chances were, and what the plan saves. */
const { data, problem, reload } = useLoaded('trust', 'study', (_key, signal) =>
  unwrap(client.GET('/api/trust/', { signal })),
)
const per = (share: Schemas['Share']) => (share.share === null ? '–' : `${(100 * share.share).toFixed(1)} %`)
const between = (share: Schemas['Share']) =>
  `${share.hits} of ${share.count}, 95 % between ${(100 * share.low).toFixed(1)} and ${(100 * share.high).toFixed(1)}\u00a0%`
const FIGURES = [
  { key: 'cylinder', words: 'Right cylinder', target: 'at least 99 %' },
  { key: 'cylinder_visible', words: 'Right cylinder, where the tests taken could show it', target: '' },
  { key: 'cause', words: 'Right cause', target: 'at least 98 %' },
  { key: 'fault', words: 'Right fault, where the tests taken can tell', target: 'at least 92 %' },
  { key: 'wrong_established', words: 'Called established, and wrong', target: 'at most 0.5 %' },
  { key: 'healthy_accused', words: 'Sound vehicle accused', target: 'at most 0.5 %' },
] as const
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
        many of them with spoilt captures. The simulator below knows the world it was made in: its figures are
        an upper bound. Your vehicles are neither.
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
          <h2>Its own simulator</h2>
          <table class="figures" data-test="figures">
            <tbody>
              <tr v-for="figure in FIGURES" :key="figure.key">
                <th>
                  {{ figure.words }}<span class="small soft">{{ figure.target }}</span>
                </th>
                <td class="number">
                  <strong>{{ per(data.figures[figure.key]) }}</strong>
                  <span class="small soft">{{ between(data.figures[figure.key]) }}</span>
                </td>
              </tr>
            </tbody>
          </table>
          <p class="small soft">
            {{ data.own ? 'A study of this shop' : 'The study that ships' }}, version {{ data.version }},
            {{ whenInWords(data.made_at) }}: {{ data.vehicles.toLocaleString() }} vehicles as often ill as the
            table of priors says, one in four captured in a noisy bay.
          </p>
        </section>
      </div>

      <section>
        <h2>Chances said, and how often they were right</h2>
        <calibration-plot :calibration="data.calibration" />
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
  grid-template-columns: 1fr 1fr;
  gap: 10px 44px;
}
h2 {
  margin: 18px 0 6px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
}
th {
  width: 52%;
  padding-right: 14px;
  font-weight: 600;
}
th,
td {
  padding: 5px 0;
  vertical-align: top;
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
</style>
