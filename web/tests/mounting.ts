import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { defineComponent, h } from 'vue'
import { queries } from '@/shared/useLoaded'

/** Runs a composable inside a component, as it is in the application. */
export function using<T>(set: () => T): { made: T; leave: () => void } {
  let made!: T
  const wrapper = mount(defineComponent({ setup: () => ((made = set()), () => h('p')) }), {
    global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] },
  })
  return { made, leave: () => wrapper.unmount() }
}
/** Until everything that can answer has answered. */
export async function settled(turns = 6): Promise<void> {
  for (let i = 0; i < turns; i++) await flushPromises()
}
/** A link that needs no router, and says where it leads. */
export const RouterLink = defineComponent({
  props: { to: { type: [String, Object], required: true } },
  setup: (props, { slots }) => {
    return () => h('a', { 'data-to': JSON.stringify(props.to) }, slots['default']?.())
  },
})
