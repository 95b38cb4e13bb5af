import { screen, waitFor } from '@testing-library/vue'
import { beforeAll, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { api } from '../src/api'
import CostSheet from '../src/costs/CostSheet.vue'
import NewContact from '../src/people/NewContact.vue'
import MoneyField from '../src/ui/MoneyField.vue'
import SideSheet from '../src/ui/SideSheet.vue'
import TextField from '../src/ui/TextField.vue'
import { useForm } from '../src/ui/form'
import { faults, field, press, refusal, Server, settled, show, wrong } from './stage'

// The schemas come late; here they are read before the first test begins.
beforeAll(() => import('../src/ui/judging'))

const contact = () => new Server({ 'GET /contact-kinds': ['client', 'witness'], 'POST /contacts': { id: 9 } })
const alerts = () => screen.queryAllByRole('alert').map((a) => a.textContent)

it('a fault stands at a field once it is left, and goes while it is mended; what nobody filled in is not complained of', async () => {
  const server = contact()
  const { user } = await show(NewContact)
  await user.type(field(/^E-mail/), 'rosa at harbor')
  expect(wrong(/^E-mail/)).toBe(false)
  await user.tab()
  await waitFor(() => expect(wrong(/^E-mail/)).toBe(true))
  expect([wrong('Name'), alerts()]).toEqual([false, []])
  await user.clear(field(/^E-mail/))
  await user.type(field(/^E-mail/), 'rosa@harbor.example')
  await waitFor(() => expect(wrong(/^E-mail/)).toBe(false))
  // Nothing was sent by judging.
  expect(server.asked.filter((a) => a.method !== 'GET')).toEqual([])
})

it('a field that had something and was emptied is complained of at once', async () => {
  contact()
  const { user } = await show(NewContact, { name: 'Rosa Lindqvist' })
  await user.clear(field('Name'))
  await user.tab()
  await waitFor(() => expect(wrong('Name')).toBe(true))
  await user.type(field('Name'), 'R')
  await waitFor(() => expect(wrong('Name')).toBe(false))
})

it('what the server refused of a field stays until that field is changed, and the next fault is then told at once', async () => {
  const server = contact()
  server.on('POST /contacts', faults(['name', 'There is a Rosa already. Choose it, or add a second name']))
  const { user } = await show(NewContact, { name: 'Rosa' })
  await press('Make contact')
  expect(wrong('Name')).toBe(true)
  await user.type(field(/^Phone/), '555 0111')
  await user.tab()
  await settled()
  expect(wrong('Name')).toBe(true)
  await user.type(field('Name'), ' Lindqvist')
  await waitFor(() => expect(wrong('Name')).toBe(false))
  expect(alerts()).toEqual([])
  server.on('POST /contacts', { id: 9 })
  await press('Make contact')
  expect(server.sent('POST /contacts').map((a) => a.body['name'])).toEqual(['Rosa', 'Rosa Lindqvist'])
})

it('what is refused again, though it was changed, is told again', async () => {
  const server = contact()
  server.on('POST /contacts', faults(['name', 'There is a Rosa already']))
  const { user } = await show(NewContact, { name: 'Rosa' })
  await press('Make contact')
  await user.type(field('Name'), ' Lindqvist')
  await waitFor(() => expect(wrong('Name')).toBe(false))
  server.on('POST /contacts', faults(['name', 'There is a Rosa Lindqvist, too']))
  await press('Make contact')
  await settled()
  expect(screen.getByText('There is a Rosa Lindqvist, too')).toBeTruthy()
  expect(wrong('Name')).toBe(true)
})

it('faults at fields are told there, and what stands at no field in words beside them', async () => {
  const server = contact()
  server.on('POST /contacts', faults(['name', 'Give the whole name'], ['kinds.0', 'There is no such kind any more']))
  const { user } = await show(NewContact, { name: 'Rosa' })
  await press('Make contact')
  expect([wrong('Name'), alerts()]).toEqual([true, ['There is no such kind any more']])
  await user.type(field('Name'), ' Lindqvist')
  await waitFor(() => expect(wrong('Name')).toBe(false))
  expect(alerts()).toEqual(['There is no such kind any more'])
})

it('an act that was refused for no field keeps its message while other fields are filled in', async () => {
  const server = contact()
  server.on('POST /contacts', refusal('closed', 'The record is being restored. Try again in a minute.'))
  const { user } = await show(NewContact, { name: 'Rosa' })
  await press('Make contact')
  await user.type(field(/^Phone/), '555 0111')
  await user.tab()
  await settled()
  expect(alerts()).toEqual(['The record is being restored. Try again in a minute.'])
})

it('an amount that cannot be read is told as such, not as missing', async () => {
  new Server({
    'GET /costs/kinds': [{ id: 1, name: 'Courier', hard: true, rate: null, unit: '', billable: true, retired: false }],
    'GET /papers': { rows: [], total: 0 },
    'POST /costs/quote': { how: '', amount: 0 },
  })
  const { user } = await show(CostSheet, { matter: { id: 5, text: '26-014 Gannet' } })
  await settled()
  await user.type(field('Amount'), 'twelve')
  await user.tab()
  await settled()
  expect(screen.getByText('Give an amount like 1,250.00')).toBeTruthy()
  await user.clear(field('Amount'))
  await user.type(field('Amount'), '12')
  await user.tab()
  await waitFor(() => expect(wrong('Amount')).toBe(false))
  await screen.findByRole('status', { name: 'Comes to' })
})

it('a sheet that stands in its page begins anew each time it opens', async () => {
  new Server({})
  const open = ref(true)
  const amount = ref<number | null>(500)
  const reason = ref('because')
  const page = defineComponent({
    setup() {
      const { state, fault, send } = useForm(() =>
        api.trustActs.hold({ id: 3, kind: 'disputed', amount: amount.value ?? 0, reason: reason.value }),
      )
      const sheet = () =>
        h(SideSheet, { title: 'Hold', save: 'Hold', busy: state.busy, onSave: send, onClose: () => (open.value = false) }, () => [
          h(MoneyField, { modelValue: amount.value, label: 'Amount', fault: fault('amount'), 'onUpdate:modelValue': (v: number | null) => (amount.value = v) }), // prettier-ignore
          h(TextField, { modelValue: reason.value, label: 'Reason', fault: fault('reason'), 'onUpdate:modelValue': (v: string | undefined) => (reason.value = v ?? '') }), // prettier-ignore
        ])
      return () => h('main', open.value ? [sheet()] : [])
    },
  })
  const { user } = await show(page)
  await user.clear(field('Reason'))
  await user.tab()
  await waitFor(() => expect(wrong('Reason')).toBe(true))
  open.value = false
  await settled()
  // It opens with its fields empty: that is no emptying of theirs.
  reason.value = ''
  amount.value = null
  open.value = true
  await settled()
  expect(wrong('Reason')).toBe(false)
  await user.type(field('Amount'), '1')
  await user.tab()
  await settled()
  expect([wrong('Reason'), wrong('Amount')]).toEqual([false, false])
})
