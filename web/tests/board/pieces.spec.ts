import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import OutcomeList from '@/board/OutcomeList.vue'
import PlanCard from '@/board/PlanCard.vue'
import SafetyQuestions from '@/board/SafetyQuestions.vue'
import SentenceList from '@/board/SentenceList.vue'
import WaitingRow from '@/board/WaitingRow.vue'
import { words } from '@/shared/words'
import { RouterLink } from '../mounting'

const meaning = (outcome: string, chance: number, cylinders: number[] = []) => ({
  outcome, words: `it is ${outcome}`, chance, cylinders, then: `then ${outcome}`,
}) // prettier-ignore
const offer = (id: string, more: object = {}) => ({
  id, test: id.split(':')[0], title: `Title ${id}`, reason: 'It splits them.', minutes: 6, proves: [], cautions: [],
  at_bench: false, has_form: true, cylinders: [3], meanings: [], ...more,
}) // prettier-ignore
const board = (offers: object[], plan: object = {}) =>
  ({
    case: { id: 12, happening: false },
    verdict: { cylinders: [3] },
    next_tests: offers,
    plan: { done: false, stop: 'Go on.', held_back: [], leave_alone: [], ...plan },
  }) as never
const card = (offers: object[], plan: object = {}, may = true) =>
  mount(PlanCard, {
    props: { board: board(offers, plan), may, ticked: () => false },
    global: { stubs: { RouterLink } },
  })
beforeEach(() => Object.assign(words, { tests: {}, statuses: {} }))

describe('the next test', () => {
  it('names the first offer, why, and what is dangerous about it', () => {
    const shown = card([
      offer('leak_down', { cautions: ['The crank turns.'], proves: ['seals'] }),
      offer('vacuum'),
    ])
    expect(shown.find('h4').text()).toBe('Title leak_down')
    expect(shown.text()).toContain('It splits them.')
    expect(shown.text()).toContain('The crank turns.')
    expect(shown.text()).toContain('It would meet a condition that is still missing.')
  })
  it('says what to leave alone until it was caught, and nothing where it is always there', () => {
    const caught = card([offer('vacuum')])
    expect(caught.find('[data-test="leave-alone"]').exists()).toBe(false)
    const waiting = card([offer('vacuum')], { leave_alone: ['Connectors: unplug nothing.'] })
    expect(waiting.find('[data-test="leave-alone"]').text()).toContain('unplug nothing')
  })
  it('asks to record that it does it now, and no more', async () => {
    const shown = card([offer('vacuum')])
    await shown.find('[data-test="happening"]').trigger('click')
    expect(shown.emitted('happening')).toEqual([[true]])
    const reads = card([offer('vacuum')], {}, false)
    expect(reads.find('[data-test="happening"]').exists()).toBe(false)
  })
  it('leads a test by hand to its form with the item chosen', () => {
    const link = card([offer('visual:plug')]).find('[data-test="write-down"]')
    expect(JSON.parse(link.attributes('data-to')!)).toEqual({
      path: '/cases/12/evidence',
      query: { form: 'visual', item: 'plug' },
    })
  })
  it('leads a capture to the bench with the suspects', () => {
    const link = card([offer('relative_compression', { at_bench: true })]).find('[data-test="at-bench"]')
    expect(JSON.parse(link.attributes('data-to')!)).toEqual({
      path: '/bench',
      query: { case: 12, test: 'relative_compression', suspects: '3' },
    })
  })
  it('offers no way in to somebody who may only read', () => {
    const read = card([offer('visual:plug'), offer('vacuum')], {}, false)
    expect(read.find('[data-test="write-down"]').exists()).toBe(false)
    expect(read.find('[data-test="approach"]').exists()).toBe(false)
  })
  it('another offer can be taken first; three are shown', async () => {
    const five = card(['a', 'b', 'c', 'd', 'e'].map((id) => offer(id)))
    expect(five.findAll('.then button').map((b) => b.text())).toEqual([
      'Title b6 min',
      'Title c6 min',
      'Title d6 min',
    ])
    await five.findAll('.then button')[1]!.trigger('click')
    expect(five.find('h4').text()).toBe('Title c')
    expect(five.find('.then button').text()).toBe('Title a6 min')
  })
  it('says that enough is known, and what waits', () => {
    const done = card([], {
      done: true,
      stop: 'The cause is shown.',
      held_back: ['Not before the plugs are out.'],
    })
    expect(done.find('h3').text()).toBe('Enough is known')
    expect(done.find('[data-test="stop"]').text()).toBe('The cause is shown.')
    expect(done.text()).toContain('Not before the plugs are out.')
  })
})

describe('what each outcome would mean', () => {
  const list = (meanings: object[], ticked = (_: string, words: string) => words === 'it is wet') =>
    mount(OutcomeList, { props: { offer: offer('visual:plug', { meanings }) as never, ticked } })
  it('is told with its chance and marked where it is imagined', () => {
    const shown = list([meaning('wet', 0.254), meaning('dry', 0.746)])
    expect(shown.find('[data-test="what-if-wet"]').text()).toContain('25 %')
    expect(shown.find('[data-test="what-if-wet"]').attributes('aria-pressed')).toBe('true')
    expect(shown.find('[data-test="what-if-dry"]').attributes('aria-pressed')).toBe('false')
  })
  it('is imagined of its own cylinders, else of those the test would look at', async () => {
    const shown = list([meaning('wet', 0.2, [1]), meaning('dry', 0.8)])
    await shown.find('[data-test="what-if-wet"]').trigger('click')
    await shown.find('[data-test="what-if-dry"]').trigger('click')
    const ticks = shown.emitted('tick')!.map(([tick]) => tick as { outcome: string; cylinders: number[] })
    expect(ticks.map((t) => [t.outcome, t.cylinders])).toEqual([
      ['wet', [1]],
      ['dry', [3]],
    ])
  })
  it('is nothing where nothing is foretold', () => {
    expect(list([]).find('ul').exists()).toBe(false)
  })
})

describe('questions that guard the starter', () => {
  const QUESTIONS = [
    { id: 'plugs', words: 'Are the plugs out?', why: 'Fuel does not compress.', answer: '' },
    { id: 'hand', words: 'Does it turn by hand?', why: 'Rods bend.', answer: 'yes, easily' },
  ]
  const asked = (may = true, questions = QUESTIONS) =>
    mount(SafetyQuestions, { props: { questions: questions as never, may } })
  it('stand before everything and count what is missing', () => {
    expect(asked().text()).toContain('Do not use the starter yet.')
    expect(asked().text()).toContain('1 of 2 answers are missing')
    expect(asked(true, [QUESTIONS[1]!]).text()).toContain('All answers are kept.')
    expect(asked(true, []).find('[data-test="safety"]').exists()).toBe(false)
  })
  it('are answered in words, never by nothing', async () => {
    const open = asked()
    await open.find('[data-test="unfold"]').trigger('click')
    expect(open.find('[data-test="answered-hand"]').text()).toBe('yes, easily')
    expect(open.find('[data-test="keep-plugs"]').attributes('disabled')).toBeDefined()
    await open.find('form').trigger('submit')
    expect(open.emitted('answer')).toBeUndefined()
    await open.find('form input').setValue('  all four ')
    await open.find('form').trigger('submit')
    expect(open.emitted('answer')).toEqual([['plugs', 'all four']])
  })
  it('are shown to a reader without a way to answer', async () => {
    const read = asked(false)
    await read.find('[data-test="unfold"]').trigger('click')
    expect(read.find('form').exists()).toBe(false)
  })
})

describe('sentences that open what they stand on', () => {
  const list = (count: number, more: object = {}) =>
    mount(SentenceList, {
      props: {
        sentences: Array.from({ length: count }, (_, i) => ({ text: `S${i}`, findings: i ? [`f${i}`] : [] })),
        ...more,
      } as never,
    })
  it('lead to their findings where they have any', async () => {
    const two = list(2)
    expect(two.findAll('button').map((b) => b.text())).toEqual(['S1'])
    await two.find('button').trigger('click')
    expect(two.emitted('evidence')).toEqual([[['f1']]])
  })
  it('fold where there are many, and unfold', async () => {
    const many = list(5, { shown: 2 })
    expect(many.findAll('p')).toHaveLength(2)
    expect(many.find('.more').text()).toBe('3 more')
    await many.find('.more').trigger('click')
    expect(many.findAll('p')).toHaveLength(5)
    expect(many.find('.more').attributes('aria-expanded')).toBe('true')
  })
  it('say that there is nothing yet', () => {
    expect(list(0, { empty: 'Nothing yet.' }).text()).toBe('Nothing yet.')
    expect(list(0).text()).toBe('')
  })
})

it('a test not taken offers itself with its minutes and tools', () => {
  const row = mount(WaitingRow, {
    props: { test: { test: 'vacuum', title: 'Vacuum', minutes: 5, tools: 'a gauge' } as never },
  })
  expect(row.text()).toContain('Not seen. 5 min with a gauge.')
  expect(row.attributes('aria-label')).toBe('Vacuum, not taken')
})
