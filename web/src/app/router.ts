import { createRouter, createWebHistory } from 'vue-router'
import { connection } from '@/api/connection'
import { BOARD, loadBoard } from '@/board/loadBoard'
import { askSoon } from '@/shared/useLoaded'
import { loadWords, words } from '@/shared/words'
import { useSession } from './session'

export const router = createRouter({
  history: createWebHistory(),
  /** A view begins at its top; going back finds the place again. Within a view nothing moves. */
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? false : { top: 0 }),
  routes: [
    { path: '/', redirect: '/cases' },
    {
      path: '/login',
      name: 'login',
      component: () => import('./LogInView.vue'),
      meta: { title: 'Log in', open: true },
    },
    {
      path: '/cases',
      name: 'cases',
      component: () => import('@/cases/CasesView.vue'),
      meta: { title: 'Cases' },
    },
    {
      path: '/cases/new',
      name: 'intake',
      component: () => import('@/intake/IntakeView.vue'),
      meta: { title: 'New case' },
    },
    {
      path: '/cases/:id(\\d+)',
      name: 'board',
      component: () => import('@/board/BoardView.vue'),
      beforeEnter: (to) => askSoon(BOARD, Number(to.params.id), loadBoard),
      meta: { title: 'Board' },
    },
    {
      path: '/cases/:id(\\d+)/evidence',
      name: 'evidence',
      component: () => import('@/evidence/EvidenceView.vue'),
      meta: { title: 'Add evidence' },
    },
    {
      path: '/cases/:id(\\d+)/visit',
      name: 'visit',
      component: () => import('@/visit/VisitView.vue'),
      meta: { title: 'This visit' },
    },
    {
      path: '/cases/:id(\\d+)/pictures',
      name: 'pictures',
      component: () => import('@/pictures/PicturesView.vue'),
      meta: { title: 'Pictures' },
    },
    {
      path: '/cases/:id(\\d+)/options',
      name: 'options',
      component: () => import('@/options/OptionsView.vue'),
      meta: { title: 'Ways to go on' },
    },
    {
      path: '/cases/:id(\\d+)/sheet',
      name: 'sheet',
      component: () => import('@/sheet/SheetView.vue'),
      meta: { title: 'Owner’s sheet' },
    },
    {
      path: '/workshop',
      name: 'workshop',
      component: () => import('@/sheet/WorkshopView.vue'),
      meta: { title: 'Letterhead' },
    },
    {
      path: '/prices',
      name: 'prices',
      component: () => import('@/options/PricesView.vue'),
      meta: { title: 'Price list' },
    },
    {
      path: '/cases/:id(\\d+)/claim/:part(\\d+)',
      name: 'claim',
      component: () => import('@/visit/ClaimView.vue'),
      meta: { title: 'Claim for a part' },
    },
    {
      path: '/cases/:id(\\d+)/journal',
      name: 'journal',
      component: () => import('@/cases/JournalView.vue'),
      meta: { title: 'Journal' },
    },
    {
      path: '/cases/:id(\\d+)/replay',
      name: 'replay',
      component: () => import('@/cases/ReplayView.vue'),
      meta: { title: 'Step by step' },
    },
    {
      path: '/cases/:id(\\d+)/traces/:capture(\\d+)',
      name: 'traces',
      component: () => import('@/traces/TraceView.vue'),
      meta: { title: 'Traces' },
    },
    {
      path: '/bench',
      name: 'bench',
      component: () => import('@/bench/BenchView.vue'),
      meta: { title: 'Bench' },
    },
    {
      path: '/trust',
      name: 'trust',
      component: () => import('@/trust/TrustView.vue'),
      meta: { title: 'How far to trust it' },
    },
    {
      path: '/shop/:part?/:record(\\d+)?',
      name: 'shop',
      component: () => import('@/shop/ShopView.vue'),
      meta: { title: 'What the shop knows' },
    },
    {
      path: '/people',
      name: 'people',
      component: () => import('@/people/PeopleView.vue'),
      meta: { title: 'People' },
    },
    {
      path: '/link/:secret',
      name: 'link',
      component: () => import('@/people/ChoosePasswordView.vue'),
      meta: { title: 'Choose a password', open: true },
    },
    {
      path: '/:rest(.*)',
      name: 'nowhere',
      component: () => import('./NowhereView.vue'),
      meta: { title: 'Not found' },
    },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  if (session.state === null) await session.load().catch(() => undefined)
  if (session.loggedIn && !words.settings.length) await loadWords().catch(() => undefined)
  if (!session.state && connection.lostAt) return true // the page says so itself
  if (!session.loggedIn && !to.meta.open) return { name: 'login', query: { next: to.fullPath } }
  return true
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title ?? '')} · Fair Witness`
})
