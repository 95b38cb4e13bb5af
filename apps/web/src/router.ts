import type { Right } from '@heron/contract'
import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './shell/session'
import { guardRoutes } from './ui/unsaved'

declare module 'vue-router' {
  interface RouteMeta {
    title?: string
    /** Shown without signing in. */
    open?: boolean
    /** Stands by itself, without anything of the firm's around it. */
    bare?: boolean
    /** Without this right the address leads to no page; the server refuses its data in any case. */
    right?: Right
  }
}

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', redirect: '/today' },
    { path: '/sign-in', component: () => import('./shell/SignIn.vue'), meta: { title: 'Sign in', open: true } },
    { path: '/today', component: () => import('./today/Today.vue'), meta: { title: 'Today' } },
    { path: '/matters', component: () => import('./matters/Matters.vue'), meta: { title: 'Matters' } },
    { path: '/matters/new', component: () => import('./matters/OpenMatter.vue'), meta: { title: 'Open a matter', right: 'matters.open' } },
    { path: '/matters/:id(\\d+)/:tab?', component: () => import('./matters/Matter.vue'), meta: { title: 'Matter' } },
    { path: '/people', component: () => import('./people/People.vue'), meta: { title: 'People' } },
    { path: '/people/enquiries', component: () => import('./people/Enquiries.vue'), meta: { title: 'Enquiries' } },
    { path: '/people/enquiries/:id(\\d+)', component: () => import('./people/Enquiry.vue'), meta: { title: 'Enquiry' } },
    {
      path: '/people/conflicts',
      component: () => import('./people/Conflicts.vue'),
      meta: { title: 'Conflict checks', right: 'matters.open' },
    },
    { path: '/people/import', component: () => import('./people/Import.vue'), meta: { title: 'Import', right: 'people.change' } },
    {
      path: '/people/:id(\\d+)/statement',
      component: () => import('./billing/Statement.vue'),
      meta: { title: 'Statement of account', right: 'bills.see' },
    },
    { path: '/people/:id(\\d+)', component: () => import('./people/Contact.vue'), meta: { title: 'Contact' } },
    { path: '/tasks', component: () => import('./tasks/Tasks.vue'), meta: { title: 'Tasks' } },
    { path: '/docket', component: () => import('./docket/Docket.vue'), meta: { title: 'Docket' } },
    {
      path: '/docket/free-hours',
      component: () => import('./docket/FreeHours.vue'),
      meta: { title: 'Free hours', right: 'docket.see' },
    },
    { path: '/docket/reports', component: () => import('./docket/Reports.vue'), meta: { title: 'Docket reports', right: 'docket.see' } },
    { path: '/docket/figures', component: () => import('./docket/Figures.vue'), meta: { title: 'Figures', right: 'docket.see' } },
    { path: '/docket/rules', component: () => import('./docket/rules/Rules.vue'), meta: { title: 'Court rules', right: 'docket.see' } },
    {
      path: '/docket/rules/:key',
      component: () => import('./docket/rules/RuleSetPage.vue'),
      meta: { title: 'Court rules', right: 'docket.see' },
    },
    { path: '/papers', component: () => import('./papers/Papers.vue'), meta: { title: 'Papers' } },
    {
      path: '/papers/mail',
      component: () => import('./papers/filing/Tray.vue'),
      meta: { title: 'E-mail to file', right: 'papers.change' },
    },
    {
      path: '/papers/mail/:id(\\d+)',
      component: () => import('./papers/filing/FileMail.vue'),
      meta: { title: 'File an e-mail', right: 'papers.change' },
    },
    { path: '/papers/to-read', component: () => import('./papers/ToRead.vue'), meta: { title: 'To read', right: 'papers.see' } },
    {
      path: '/papers/templates',
      component: () => import('./papers/templates/Templates.vue'),
      meta: { title: 'Templates', right: 'papers.see' },
    },
    {
      path: '/papers/templates/:id(\\d+)',
      component: () => import('./papers/templates/TemplatePage.vue'),
      meta: { title: 'Template', right: 'papers.see' },
    },
    {
      path: '/papers/fields',
      component: () => import('./papers/templates/Fields.vue'),
      meta: { title: 'Fields of templates', right: 'papers.see' },
    },
    {
      path: '/outside/:token',
      component: () => import('./papers/outside/Outside.vue'),
      meta: { title: 'Papers for you', open: true, bare: true },
    },
    {
      path: '/pay/:token',
      component: () => import('./billing/Pay.vue'),
      meta: { title: 'Pay a bill', open: true, bare: true },
    },
    { path: '/time', component: () => import('./time/Time.vue'), meta: { title: 'Time' } },
    { path: '/time/all', component: () => import('./time/AllTime.vue'), meta: { title: 'All time' } },
    { path: '/time/day', component: () => import('./time/DaySheet.vue'), meta: { title: 'Day sheet', right: 'time.record' } },
    { path: '/time/week', component: () => import('./time/Week.vue'), meta: { title: 'Week', right: 'time.record' } },
    { path: '/time/rates', component: () => import('./time/Rates.vue'), meta: { title: 'Rates', right: 'bills.review' } },
    { path: '/time/phrases', component: () => import('./time/Phrases.vue'), meta: { title: 'Phrases', right: 'time.record' } },
    { path: '/time/costs', component: () => import('./costs/Costs.vue'), meta: { title: 'Costs', right: 'costs.record' } },
    { path: '/bills', component: () => import('./billing/Bills.vue'), meta: { title: 'Bills' } },
    { path: '/bills/runs/:id(\\d+)', component: () => import('./billing/Run.vue'), meta: { title: 'Run of bills' } },
    { path: '/bills/pre/:id(\\d+)', component: () => import('./billing/PreBill.vue'), meta: { title: 'Pre-bill' } },
    { path: '/bills/:id(\\d+)', component: () => import('./billing/Bill.vue'), meta: { title: 'Bill' } },
    { path: '/trust', component: () => import('./trust/Trust.vue'), meta: { title: 'Trust' } },
    { path: '/trust/sheets/:id', component: () => import('./trust/Sheet.vue'), meta: { title: 'Deposit sheet' } },
    { path: '/trust/ledgers/:id(\\d+)', component: () => import('./trust/Ledger.vue'), meta: { title: 'Client ledger' } },
    { path: '/books', component: () => import('./books/Books.vue'), meta: { title: 'Books' } },
    {
      path: '/books/bank/:id(\\d+)',
      component: () => import('./books/Reconcile.vue'),
      meta: { title: 'Bank account', right: 'books.see' },
    },
    { path: '/books/accounts/:id(\\d+)', component: () => import('./books/Account.vue'), meta: { title: 'Account' } },
    { path: '/books/journals/:id(\\d+)', component: () => import('./books/Journal.vue'), meta: { title: 'Journal' } },
    { path: '/set-up', component: () => import('./setup/Firm.vue'), meta: { title: 'Set-up', right: 'firm.set-up' } },
    { path: '/set-up/people', component: () => import('./setup/People.vue'), meta: { title: 'People and rates', right: 'firm.set-up' } },
    { path: '/set-up/leave', component: () => import('./setup/Leave.vue'), meta: { title: 'Leave and departure', right: 'firm.set-up' } },
    { path: '/set-up/areas', component: () => import('./setup/Areas.vue'), meta: { title: 'Areas and stages', right: 'firm.set-up' } },
    { path: '/set-up/fields', component: () => import('./setup/Fields.vue'), meta: { title: 'Fields', right: 'firm.set-up' } },
    { path: '/set-up/procedures', component: () => import('./setup/Procedures.vue'), meta: { title: 'Procedures', right: 'firm.set-up' } },
    {
      path: '/set-up/procedures/:id',
      component: () => import('./setup/ProcedureEditor.vue'),
      meta: { title: 'Procedure', right: 'firm.set-up' },
    },
    { path: '/set-up/lists', component: () => import('./setup/Lists.vue'), meta: { title: 'Lists and fees', right: 'firm.set-up' } },
    { path: '/set-up/time', component: () => import('./setup/TimeFields.vue'), meta: { title: 'Time and phrases', right: 'firm.set-up' } },
    { path: '/set-up/folders', component: () => import('./setup/Folders.vue'), meta: { title: 'Folders', right: 'firm.set-up' } },
    { path: '/set-up/letterhead', component: () => import('./setup/Letterhead.vue'), meta: { title: 'Letterhead', right: 'firm.set-up' } },
    {
      path: '/set-up/bill-letters',
      component: () => import('./setup/BillLetters.vue'),
      meta: { title: 'Letters about bills', right: 'firm.set-up' },
    },
    { path: '/set-up/letters', component: () => import('./setup/Letters.vue'), meta: { title: 'Letters', right: 'firm.set-up' } },
    { path: '/set-up/accounts', component: () => import('./setup/Accounts.vue'), meta: { title: 'Accounts', right: 'firm.set-up' } },
    { path: '/set-up/reminders', component: () => import('./setup/ReminderRules.vue'), meta: { title: 'Reminders', right: 'firm.set-up' } },
    { path: '/set-up/rights', component: () => import('./setup/Rights.vue'), meta: { title: 'Rights by role', right: 'firm.set-up' } },
    { path: '/set-up/walls', component: () => import('./setup/Walls.vue'), meta: { title: 'Walls', right: 'firm.set-up' } },
    { path: '/set-up/log', component: () => import('./setup/FirmLog.vue'), meta: { title: 'Log of the firm', right: 'firm.set-up' } },
    {
      path: '/set-up/background',
      component: () => import('./setup/Background.vue'),
      meta: { title: 'In the background', right: 'firm.set-up' },
    },
    { path: '/set-up/backups', component: () => import('./setup/Backups.vue'), meta: { title: 'Backups', right: 'firm.set-up' } },
    { path: '/new-firm', component: () => import('./setup/First.vue'), meta: { title: 'Set up your firm', open: true } },
    { path: '/matters/board', component: () => import('./matters/Board.vue'), meta: { title: 'Board', right: 'matters.see' } },
    { path: '/reports', component: () => import('./reports/Decisions.vue'), meta: { title: 'For decision', right: 'bills.see' } },
    { path: '/reports/weeks', component: () => import('./reports/Weeks.vue'), meta: { title: 'Week by timekeeper', right: 'bills.see' } },
    { path: '/reports/flow', component: () => import('./reports/Flow.vue'), meta: { title: 'Work to money', right: 'bills.see' } },
    { path: '/reports/owed', component: () => import('./reports/Owed.vue'), meta: { title: 'Receivables by age', right: 'bills.see' } },
    {
      path: '/reports/sent',
      component: () => import('./reports/Schedules.vue'),
      meta: { title: 'Sent by themselves', right: 'bills.see' },
    },
    { path: '/reports/:key([a-z]+)', component: () => import('./reports/Report.vue'), meta: { title: 'Report', right: 'bills.see' } },
    { path: '/:rest(.*)*', component: () => import('./shell/NotThere.vue'), meta: { title: 'Not there' } },
  ],
})

guardRoutes(router)
router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.known) await session.look().catch(() => undefined)
  if (session.empty) return to.path === '/new-firm' ? true : '/new-firm'
  if (to.meta['open'] || session.me) return true
  return { path: '/sign-in', query: { next: to.fullPath } }
})

router.afterEach((to) => {
  document.title = `${String(to.meta['title'])} · Astute Heron`
})
