import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './shell/session'

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', redirect: '/today' },
    { path: '/sign-in', component: () => import('./shell/SignIn.vue'), meta: { title: 'Sign in', open: true } },
    { path: '/today', component: () => import('./today/Today.vue'), meta: { title: 'Today' } },
    { path: '/matters', component: () => import('./matters/Matters.vue'), meta: { title: 'Matters' } },
    { path: '/matters/new', component: () => import('./matters/OpenMatter.vue'), meta: { title: 'Open a matter' } },
    { path: '/matters/:id(\\d+)/:tab?', component: () => import('./matters/Matter.vue'), meta: { title: 'Matter' } },
    { path: '/people', component: () => import('./people/People.vue'), meta: { title: 'People' } },
    { path: '/people/enquiries', component: () => import('./people/Enquiries.vue'), meta: { title: 'Enquiries' } },
    { path: '/people/enquiries/:id(\\d+)', component: () => import('./people/Enquiry.vue'), meta: { title: 'Enquiry' } },
    { path: '/people/conflicts', component: () => import('./people/Conflicts.vue'), meta: { title: 'Conflict checks' } },
    { path: '/people/import', component: () => import('./people/Import.vue'), meta: { title: 'Import' } },
    { path: '/people/:id(\\d+)', component: () => import('./people/Contact.vue'), meta: { title: 'Contact' } },
    { path: '/tasks', component: () => import('./tasks/Tasks.vue'), meta: { title: 'Tasks' } },
    { path: '/docket', component: () => import('./docket/Docket.vue'), meta: { title: 'Docket' } },
    { path: '/papers', component: () => import('./papers/Papers.vue'), meta: { title: 'Papers' } },
    { path: '/time', component: () => import('./time/Time.vue'), meta: { title: 'Time' } },
    { path: '/bills', component: () => import('./billing/Bills.vue'), meta: { title: 'Bills' } },
    { path: '/bills/pre/:id(\\d+)', component: () => import('./billing/PreBill.vue'), meta: { title: 'Pre-bill' } },
    { path: '/bills/:id(\\d+)', component: () => import('./billing/Bill.vue'), meta: { title: 'Bill' } },
    { path: '/trust', component: () => import('./trust/Trust.vue'), meta: { title: 'Trust' } },
    { path: '/trust/sheets/:id', component: () => import('./trust/Sheet.vue'), meta: { title: 'Deposit sheet' } },
    { path: '/trust/ledgers/:id(\\d+)', component: () => import('./trust/Ledger.vue'), meta: { title: 'Client ledger' } },
    { path: '/books', component: () => import('./books/Books.vue'), meta: { title: 'Books' } },
    { path: '/books/accounts/:id(\\d+)', component: () => import('./books/Account.vue'), meta: { title: 'Account' } },
    { path: '/books/journals/:id(\\d+)', component: () => import('./books/Journal.vue'), meta: { title: 'Journal' } },
    { path: '/reports', component: () => import('./reports/Reports.vue'), meta: { title: 'Reports' } },
    { path: '/:rest(.*)*', component: () => import('./shell/NotThere.vue'), meta: { title: 'Not there' } },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.known) await session.look().catch(() => undefined)
  if (to.meta['open'] || session.me) return true
  return { path: '/sign-in', query: { next: to.fullPath } }
})

router.afterEach((to) => {
  document.title = `${String(to.meta['title'])} · Astute Heron`
})
