<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '@/app/session'

/** Nothing is there yet: what to do first, second and third. */
defineProps<{ may: boolean }>()
const session = useSession()
const lead = computed(() => session.state?.role === 'lead')
</script>

<template>
  <section aria-labelledby="first-steps" data-test="first-steps">
    <h2 id="first-steps">
      The yard{{ session.state?.workshop ? ` of ${session.state.workshop}` : '' }} is empty
    </h2>
    <ol v-if="may">
      <li>
        <router-link to="/bench" data-test="try-simulated">Try it on a simulated vehicle</router-link>
        <p>Crank it, keep the capture, and read the board: five minutes, and nothing can be broken.</p>
      </li>
      <li>
        <router-link to="/cases/new" data-test="first-case"
          >Start a case for a vehicle of your own</router-link
        >
        <p>
          Cylinders and firing order are enough. Then bring a file of your scope under Add evidence, or write
          down what a gauge or a scan tool says.
        </p>
      </li>
      <li v-if="lead">
        <router-link to="/people">Let the others in</router-link>
        <p>Each with a name of their own: what is kept carries the name of who kept it.</p>
      </li>
      <li v-if="lead">
        <router-link to="/workshop">Put your letterhead on the owner’s sheet</router-link>
        <p>Name, address and a picture; the price list is there too.</p>
      </li>
    </ol>
    <p>
      A case package of a colleague can be dropped anywhere on this page. <kbd class="keycap">?</kbd> shows
      all keys.
    </p>
  </section>
</template>

<style scoped>
ol {
  padding-left: 26px;
}
li {
  margin: 12px 0;
}
li::marker {
  font-weight: 700;
  font-size: 1.2rem;
}
a {
  display: inline-block;
  font-weight: 600;
  font-size: 1.1rem;
  padding: 6px 0;
  color: inherit;
}
</style>
