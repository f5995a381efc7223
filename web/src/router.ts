import { createRouter, createWebHistory } from 'vue-router'
import { addressOf } from './api/base'
import { useHand } from './strip/store'

declare module 'vue-router' {
  interface RouteMeta {
    station?: string
    purpose?: string
  }
}

export const router = createRouter({
  history: createWebHistory(addressOf('/')),
  routes: [
    { path: '/', redirect: '/rack' },
    {
      path: '/rack',
      component: () => import('./stations/rack/RackStation.vue'),
      meta: { station: 'Rack', purpose: 'every knife on the shelf, at one scale' },
    },
    {
      path: '/rack/claims',
      component: () => import('./stations/rack/ClaimsPage.vue'),
      meta: { station: 'Rack', purpose: 'printed claims against measurements' },
    },
    {
      path: '/bench',
      component: () => import('./stations/bench/BenchStart.vue'),
      meta: { station: 'Bench', purpose: 'measure one piece, in order' },
    },
    {
      path: '/bench/:sheet(\\d+)',
      component: () => import('./stations/bench/BenchStation.vue'),
      props: (route) => ({ sheetId: Number(route.params.sheet) }),
      meta: { station: 'Bench', purpose: 'measure one piece, in order' },
    },
    {
      path: '/bench/:sheet(\\d+)/photo',
      component: () => import('./stations/photo/PhotoStation.vue'),
      props: (route) => ({ sheetId: Number(route.params.sheet) }),
      meta: { station: 'Bench', purpose: 'measure from a photo with a scale card' },
    },
    {
      path: '/bench/instruments',
      component: () => import('./stations/instruments/InstrumentsStation.vue'),
      meta: { station: 'Bench', purpose: 'the instruments that readings are taken with' },
    },
    {
      path: '/board/foods',
      component: () => import('./stations/foods/FoodsStation.vue'),
      meta: { station: 'Board', purpose: 'what is cut, and how it resists' },
    },
    {
      path: '/sheet/:piece(\\d+)?',
      component: () => import('./stations/sheet/SheetStation.vue'),
      props: (route) => ({ pieceId: Number(route.params.piece) || null }),
      meta: { station: 'Sheet', purpose: 'everything about one knife' },
    },
    {
      path: '/board',
      component: () => import('./stations/board/BoardStation.vue'),
      meta: { station: 'Board', purpose: 'two to six knives, compared' },
    },
    {
      path: '/board/kept/:comparison(\\d+)?',
      redirect: (to) => to.fullPath.replace('kept', 'saved'),
    },
    {
      path: '/board/saved',
      component: () => import('./stations/board/SavedBoards.vue'),
      meta: { station: 'Board', purpose: 'comparisons saved under a name' },
    },
    {
      path: '/board/saved/:comparison(\\d+)',
      component: () => import('./stations/board/SavedBoard.vue'),
      props: (route) => ({ comparisonId: Number(route.params.comparison) }),
      meta: { station: 'Board', purpose: 'figures when saved, beside today’s' },
    },
    {
      path: '/counter',
      component: () => import('./stations/counter/CounterStation.vue'),
      meta: { station: 'Counter', purpose: 'from a customer’s needs to a short list' },
    },
    {
      path: '/counter/card/:piece(\\d+)',
      component: () => import('./stations/counter/TakeHomeCard.vue'),
      props: (route) => ({ pieceId: Number(route.params.piece) }),
      meta: { station: 'Counter', purpose: 'a one-page card to take home with the knife' },
    },
    {
      path: '/trials',
      component: () => import('./stations/trials/TrialsStation.vue'),
      meta: { station: 'Trials', purpose: 'edge retention, tested and recorded' },
    },
    {
      path: '/trials/cuts',
      component: () => import('./stations/trials/CutTrialsStation.vue'),
      meta: { station: 'Trials', purpose: 'how foods resist the cut, tested and recorded' },
    },
    {
      path: '/trials/calibration',
      component: () => import('./stations/trials/CalibrationStation.vue'),
      meta: { station: 'Trials', purpose: 'predicted against observed' },
    },
    {
      path: '/upkeep',
      component: () => import('./stations/upkeep/UpkeepStation.vue'),
      meta: { station: 'Upkeep', purpose: 'the right tool, the right angle, the right day' },
    },
    {
      path: '/upkeep/workshop',
      component: () => import('./stations/upkeep/WorkshopPage.vue'),
      meta: { station: 'Upkeep', purpose: 'what the shop sharpens with' },
    },
    {
      path: '/upkeep/:piece(\\d+)/:part(setup|reprofile|life|work|care)?',
      component: () => import('./stations/upkeep/KnifeUpkeep.vue'),
      props: (route) => ({
        pieceId: Number(route.params.piece),
        part: String(route.params.part || 'setup'),
      }),
      meta: { station: 'Upkeep', purpose: 'the right tool, the right angle, the right day' },
    },
    {
      path: '/office',
      component: () => import('./stations/office/OfficeStation.vue'),
      meta: { station: 'Office', purpose: 'what the shop sets for everybody' },
    },
    {
      path: '/office/repeatability',
      component: () => import('./stations/office/RepeatabilityPage.vue'),
      meta: { station: 'Office', purpose: 'how closely readings repeat, and what that costs' },
    },
    {
      path: '/office/shop',
      component: () => import('./stations/office/ShopPage.vue'),
      meta: { station: 'Office', purpose: 'the shop’s name, currency, units and cards' },
    },
    {
      path: '/office/models',
      component: () => import('./stations/mending/MendingPage.vue'),
      meta: {
        station: 'Office',
        purpose: 'what makers and models are called, and what is printed of them',
      },
    },
    {
      path: '/office/pages',
      component: () => import('./stations/pages/PagesStation.vue'),
      meta: { station: 'Office', purpose: 'what is written for readers, and what is published' },
    },
    {
      path: '/office/pages/:page(\\d+)',
      component: () => import('./stations/pages/PageEditor.vue'),
      props: (route) => ({ pageId: Number(route.params.page) }),
      meta: { station: 'Office', purpose: 'a page for readers, from draft to published' },
    },
    {
      path: '/office/in',
      component: () => import('./stations/exchange/BringIn.vue'),
      meta: { station: 'Office', purpose: 'tables from anywhere, with a trial run first' },
    },
    {
      path: '/office/out',
      component: () => import('./stations/exchange/TakeOut.vue'),
      meta: { station: 'Office', purpose: 'everything as files for other programs' },
    },
    {
      path: '/office/work',
      component: () => import('./stations/office/WorkPage.vue'),
      meta: { station: 'Office', purpose: 'long-running tasks and their progress' },
    },
    {
      path: '/office/people',
      component: () => import('./stations/people/PeoplePage.vue'),
      meta: { station: 'Office', purpose: 'who works here, and what each may do' },
    },
    {
      path: '/office/changes',
      component: () => import('./stations/people/ChangesPage.vue'),
      meta: { station: 'Office', purpose: 'who changed what, from what to what' },
    },
    {
      path: '/office/me',
      component: () => import('./stations/people/MePage.vue'),
      meta: { station: 'Office', purpose: 'your password, sign-ins and keys' },
    },
    { path: '/join', component: { render: () => null } },
    {
      path: '/steels',
      component: () => import('./stations/steels/SteelsStation.vue'),
      meta: { station: 'Steels', purpose: 'grades, hardness bands, conversions' },
    },
    { path: '/:rest(.*)*', component: () => import('./parts/NowhereNote.vue') },
  ],
})

/** Keep the knives in hand in every link, so that an address can be shared. */
router.beforeEach((to) => {
  const hand = useHand()
  if (typeof to.query.hand === 'string' && to.query.hand !== hand.asText()) {
    hand.ids = hand.parsed(to.query.hand)
  }
  const wanted = hand.asText() || undefined
  if (to.query.hand === wanted) return true
  return { ...to, query: { ...to.query, hand: wanted }, replace: true }
})
