import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref, type VNode } from 'vue'
import DataTable from '../src/ui/DataTable.vue'
import { plain, shown, type Column } from '../src/ui/table/columns'
import { csvOf } from '../src/ui/table/export'
import { aDay, useAddress, useFiltered } from '../src/address'
import { Server, settled, show, type Asked } from './stage'

interface Row {
  id: number
  name: string
  day: string
  amount: number
}
const rows: Row[] = [
  { id: 1, name: 'Osprey', day: '2026-11-20', amount: 30_00 },
  { id: 2, name: 'Avocet', day: '2026-11-20', amount: 1_200_00 },
  { id: 3, name: 'Plover', day: '2026-11-19', amount: 5 },
]
const columns: Column<Row>[] = [
  { key: 'name', text: 'Name', fixed: true, narrow: 'title', sort: true },
  { key: 'day', text: 'Day', kind: 'day', sort: 'day' },
  { key: 'amount', text: 'Amount', kind: 'money', sort: true, total: '$1,230.05' },
  { key: 'note', text: 'Note', hidden: true, value: () => 'quiet' },
]
/** A page with one list on it. */
function page(more: Record<string, unknown> = {}, beside: () => () => VNode[] = () => () => []) {
  return defineComponent({
    setup() {
      const others = beside()
      return () => [...others(), h(DataTable as never, { label: 'Birds', name: 'birds', rows, columns, rowId: (r: Row) => r.id, ...more })]
    },
  })
}
const names = () =>
  screen.getAllByRole('row').flatMap((r) =>
    within(r)
      .queryAllByText(/^(Osprey|Avocet|Plover)$/)
      .map((x) => x.textContent),
  )

beforeEach(() => localStorage.clear())

describe('a list', () => {
  it('reads each value by its kind, on the page and in a file', () => {
    expect(columns.slice(0, 3).map((c) => shown(c, rows[1]!))).toEqual(['Avocet', 'Fri 20 Nov', '$1,200.00'])
    expect(columns.slice(0, 3).map((c) => plain(c, rows[1]!))).toEqual(['Avocet', '2026-11-20', 1200])
    expect(plain({ key: 'minutes', text: 'Hours', kind: 'hours' }, { minutes: 42 })).toBe(0.7)
    expect(shown({ key: 'gone', text: 'Gone', kind: 'money' }, {})).toBe('')
  })
  it('goes into a file with amounts in two decimals, and nothing in it is a formula', async () => {
    const own = [
      { id: 1, name: '=1+1', day: '2026-11-20', amount: -2_50 },
      { id: 2, name: '-2 or so', day: '', amount: 253_650 },
    ]
    expect((await csvOf(columns.slice(0, 3), own)).split('\r\n')).toEqual([
      'Name,Day,Amount',
      `"'=1+1",2026-11-20,-2.50`,
      `"'-2 or so",,2536.50`,
    ])
  })
  it('is sorted here by its values, or asks the server', async () => {
    const sort = ref('')
    const on = await show(page({ sort: 'name', 'onUpdate:sort': (s: string) => (sort.value = s) }))
    await on.user.click(screen.getByRole('button', { name: 'Amount' }))
    expect(names()).toEqual(['Avocet', 'Osprey', 'Plover'])
    expect(screen.getByRole('columnheader', { name: /Amount/ }).getAttribute('aria-sort')).toBe('descending')
    await on.user.click(screen.getByRole('button', { name: 'Amount' }))
    expect(names()).toEqual(['Plover', 'Osprey', 'Avocet'])
    await on.user.click(screen.getByRole('button', { name: 'Day' }))
    expect(sort.value).toBe('day')
  })
  it('on a narrow screen keeps its menu, its order, the choice of all and its sums', async () => {
    vi.stubGlobal('matchMedia', (media: string) => ({ media, matches: media.includes('max-width'), addEventListener() {}, removeEventListener() {} })) // prettier-ignore
    const selected = ref<number[]>([])
    const on = await show(page({ selected: selected.value, 'onUpdate:selected': (ids: number[]) => (selected.value = ids) }))
    const inOrder = () => screen.getAllByRole('listitem').map((r) => within(r).getByText(/^(Osprey|Avocet|Plover)$/).textContent)
    expect([screen.queryByRole('table'), inOrder()]).toEqual([null, ['Osprey', 'Avocet', 'Plover']])
    expect(document.querySelector('[data-figure="amount"]')!.parentElement!.textContent).toBe('Together Amount $1,230.05')
    await on.user.click(screen.getByRole('button', { name: 'The list Birds' }))
    await on.user.click(await screen.findByRole('menuitem', { name: 'Sort by Amount' }))
    expect(inOrder()).toEqual(['Avocet', 'Osprey', 'Plover'])
    await on.user.click(screen.getByRole('checkbox', { name: 'Choose all' }))
    expect([...selected.value].sort()).toEqual([1, 2, 3])
    vi.unstubAllGlobals()
  })
  it('goes from row to row by arrows, opens at Enter and chooses at Space', async () => {
    const opened: number[] = []
    let chosen: (string | number)[] = []
    await show(
      page({ open: (r: Row) => opened.push(r.id), selected: chosen, 'onUpdate:selected': (s: (string | number)[]) => (chosen = s) }),
    )
    const row = (i: number) => document.querySelector<HTMLElement>(`[data-row="${i}"]`)!
    expect([row(0).tabIndex, row(1).tabIndex]).toEqual([0, -1])
    row(0).focus()
    await fireEvent.keyDown(row(0), { key: 'ArrowDown' })
    await settled()
    expect(document.activeElement).toBe(row(1))
    await fireEvent.keyDown(row(1), { key: 'Enter' })
    await fireEvent.keyDown(row(1), { key: ' ' })
    await fireEvent.keyDown(row(1), { key: 'End' })
    await settled()
    expect(document.activeElement).toBe(row(2))
    expect([opened, chosen]).toEqual([[2], [2]])
  })
  it('stands under headings with their sums, until it is sorted otherwise', async () => {
    const on = await show(
      page({ groupOf: (r: Row) => r.day, group: (day: string) => ({ text: day, totals: { amount: `sum of ${day}` } }) }),
    )
    expect(screen.getAllByText(/^sum of/).map((x) => x.textContent)).toEqual(['sum of 2026-11-20', 'sum of 2026-11-19'])
    await on.user.click(screen.getByRole('button', { name: 'Name' }))
    expect(screen.queryByText(/^sum of/)).toBeNull()
    expect(names()).toEqual(['Avocet', 'Osprey', 'Plover'])
  })
  it('keeps which columns were chosen, and gives them back', async () => {
    const on = await show(page())
    expect(screen.queryByRole('columnheader', { name: 'Note' })).toBeNull()
    await on.user.click(screen.getByRole('button', { name: 'The list Birds' }))
    await on.user.click(screen.getByRole('menuitem', { name: 'Columns …' }))
    await settled()
    await on.user.click(screen.getByRole('checkbox', { name: 'Note' }))
    expect((screen.getByRole('checkbox', { name: 'Name' }) as HTMLInputElement).disabled).toBe(true)
    await settled()
    expect(JSON.parse(localStorage.getItem('table birds')!)).toMatchObject({ columns: ['name', 'day', 'amount', 'note'] })
    await on.user.click(screen.getByRole('button', { name: 'The usual ones' }))
    await settled()
    expect(JSON.parse(localStorage.getItem('table birds')!)).toMatchObject({ columns: null })
  })
  it('says what is empty, what went wrong, and keeps what it shows while it loads anew', async () => {
    await show(page({ rows: [], problem: 'The server does not answer.' }))
    expect(screen.getByRole('alert').textContent).toContain('does not answer')
    document.body.innerHTML = ''
    await show(page({ loading: true, problem: 'late' }))
    expect(names()).toHaveLength(3)
    expect(screen.getByRole('table', { name: 'Birds' }).getAttribute('aria-busy')).toBe('true')
  })
  it('puts what can be done to a row into one menu, also by the key for menus', async () => {
    const did: string[] = []
    const on = await show(page({ acts: (r: Row) => [{ text: `Ring ${r.name}`, act: () => did.push(r.name) }] }))
    const row = document.querySelector<HTMLElement>('[data-row="2"]')!
    row.focus()
    await fireEvent.keyDown(row, { key: 'F10', shiftKey: true })
    await settled()
    await on.user.click(screen.getByRole('menuitem', { name: 'Ring Plover' }))
    expect(did).toEqual(['Plover'])
  })
  it('keeps its columns and its order as a view with the filters of its page, and shows them again', async () => {
    const views: { id: number; name: string; state: string; shared: boolean; own: boolean; by: string }[] = []
    const server = new Server({
      'GET /views': () => views,
      'POST /views': ({ body }: Asked) => {
        views.push({ id: 1, name: String(body['name']), state: String(body['state']), shared: false, own: true, by: 'Orla' })
        return { id: 1 }
      },
    })
    const filtered = page({}, () => {
      const { kind, from, least } = useFiltered({ kind: 'all', from: aDay(), least: 0, page: 1 })
      return () => [
        h('output', { 'aria-label': 'Filters' }, JSON.stringify([kind.value, from.value, least.value])),
        h('button', { onClick: () => ((kind.value = 'wader'), (from.value = '2026-11-01'), (least.value = 5)) }, 'Waders'),
        h('button', { onClick: () => ((kind.value = 'all'), (from.value = null), (least.value = 0)) }, 'All'),
      ]
    })
    const on = await show(filtered)
    const filters = () => screen.getByRole('status', { name: 'Filters' }).textContent
    await on.user.click(screen.getByRole('button', { name: 'Waders' }))
    await on.user.click(screen.getByRole('button', { name: 'Amount' }))
    await settled()
    expect(on.router.currentRoute.value.query).toEqual({ kind: 'wader', from: '2026-11-01', least: '5' })
    await on.user.click(screen.getByRole('button', { name: 'The list Birds' }))
    await on.user.click(screen.getByRole('menuitem', { name: 'Views …' }))
    await on.user.type(await screen.findByLabelText(/Keep what is shown as/), 'Waders by size')
    await on.user.click(screen.getByRole('button', { name: /Keep what is shown$/ }))
    await settled()
    expect(server.sent('POST /views')[0]!.body).toMatchObject({
      list: 'birds',
      state: JSON.stringify({ kind: 'wader', from: '2026-11-01', least: '5', $order: '-amount' }),
    })
    // Otherwise for a while; then the view again, of which nothing is taken that the page does not know.
    views[0]!.state = JSON.stringify({ ...JSON.parse(views[0]!.state), wings: '2', page: '9', $columns: 'name,note,claws' })
    await on.user.click(screen.getByRole('button', { name: 'All' }))
    await on.user.click(screen.getByRole('button', { name: 'Name' }))
    await settled()
    expect([filters(), names()[0]]).toEqual(['["all",null,0]', 'Avocet'])
    await on.user.click(screen.getByRole('button', { name: 'The list Birds' }))
    await on.user.click(screen.getByRole('menuitem', { name: 'Views …' }))
    await on.user.click(await screen.findByRole('button', { name: 'Waders by size' }))
    await settled()
    expect(filters()).toBe('["wader","2026-11-01",5]')
    expect(screen.getAllByRole('columnheader').map((x) => x.textContent!.trim())).toEqual(['Name', 'Note', ''])
  })
})

describe('an address', () => {
  it('that gives no day where one stands gives the usual one, and none where it may be left open', async () => {
    const own = defineComponent(() => {
      const shown = useAddress({ day: '2026-11-23', q: '' }, [], true)
      const { from, to } = useFiltered({ from: aDay('2026-11-01'), to: aDay() })
      return () => h('output', { 'aria-label': 'Address' }, JSON.stringify([shown.day, shown.q, from.value, to.value]))
    })
    const on = await show(own)
    const told = async (query: Record<string, string>) => {
      await on.router.replace({ query })
      await settled()
      return JSON.parse(screen.getByRole('status', { name: 'Address' }).textContent!)
    }
    expect(await told({ day: 'garbage', q: 'x', from: '2026-02-30', to: 'soon' })).toEqual(['2026-11-23', 'x', '2026-11-01', null])
    expect(await told({ day: '2026-12-01', from: '', to: '2026-12-02' })).toEqual(['2026-12-01', '', null, '2026-12-02'])
  })
})
