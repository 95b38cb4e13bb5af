import { fireEvent, screen } from '@testing-library/vue'
import { expect, it, vi } from 'vitest'
import { createApp, defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { api } from '../src/api'
import { sayWhatIsRefused } from '../src/shell/refused'
import { lastNote, refusal, Server, settled } from './stage'

/** The application with a button that nothing listens for, and a page that is not there any more. */
async function stand() {
  new Server({ 'POST /timers': refusal('too-many', 'Twenty timers are at hand. End one first.') })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', component: { template: '<p></p>' } },
      { path: '/gone', component: () => Promise.reject(new TypeError('Failed to fetch dynamically imported module')) },
    ],
  })
  const page = defineComponent(() => () => h('button', { onClick: () => api.time.startTimer({ matterId: 5, text: '' }) }, 'Start'))
  const app = createApp(page)
  sayWhatIsRefused(app, router)
  const root = document.createElement('div')
  document.body.append(root)
  app.use(router).mount(root)
  await router.isReady()
  return router
}

it('says what was refused of an act that its page does not listen for', async () => {
  await stand()
  await fireEvent.click(screen.getByText('Start'))
  await settled()
  expect(lastNote()?.text).toBe('Twenty timers are at hand. End one first.')
})

it('says that a page could not be fetched, and offers to load it anew', async () => {
  const router = await stand()
  const went = vi.fn()
  vi.stubGlobal('location', { ...window.location, assign: went })
  await router.push('/gone').catch(() => undefined)
  expect(lastNote()?.text).toMatch(/could not be fetched/)
  expect(lastNote()?.undo?.label).toBe('Load it anew')
  await lastNote()!.undo!.act()
  expect(went).toHaveBeenCalledWith('/gone')
})
