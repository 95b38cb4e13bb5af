import type { Day } from '@heron/core/calendar'
import type { Arrangement } from '@heron/core/billing'
import { computed, reactive, ref, watch, type Ref } from 'vue'
import type { FieldValues } from '@heron/contract'
import { api, type Answer } from '../api'
import type { Choice } from '../ui/Picker.vue'
import { useAct } from '../use'
import type { SharedPayer } from './payers'
import type { OpenParty } from './roles'
import { blankContingent, type TypedPortion } from './arranging'

export interface Member {
  userId: number
  name: string
  rate: number | null
}

/** What the opening sheet holds. Whoever is no lawyer chooses who leads; nobody is put there silently. */
export const blankOpening = (today: Day, leadId: number) =>
  reactive({
    client: null as Choice | null,
    name: '',
    shortName: '',
    clients: [] as Choice[],
    kind: 'client' as 'client' | 'firm' | 'practice',
    secondNumber: '',
    tags: '',
    judge: null as Choice | null,
    originatingId: 0,
    fields: {} as FieldValues,
    enquiryId: null as number | null,
    openedOn: today as Day | null,
    areaId: 0,
    description: '',
    parties: [] as OpenParty[],
    court: '',
    caseNumber: '',
    ourSide: '',
    ruleSetKey: '',
    leadId,
    team: [] as Member[],
    access: 'area' as 'area' | 'firm' | 'team',
    billing: 'hourly' as Arrangement,
    leadRate: null as number | null,
    flatFee: [] as TypedPortion[],
    contingent: blankContingent(),
    billTo: null as Choice | null,
    payers: [] as SharedPayer[],
    procedureId: 0,
  })
export type Opening = ReturnType<typeof blankOpening>

/**
 * Checks the names of an opening against the firm at each change, one check after another, so that the record is never older than
 * the parties and each check gives way to the next.
 */
export function useConflictCheck(form: Opening) {
  const check: Ref<Answer<typeof api.people.checkConflicts> | null> = ref(null)
  const checking = useAct()
  const names = computed(() => [form.client, ...form.clients, ...form.parties.map((p) => p.who)].filter((n): n is Choice => n !== null))
  const ours = () => [form.client, ...form.clients, ...form.parties.filter((p) => p.side === 'ours').map((p) => p.who)]
  /** The check that the next one takes the place of, also after one that failed. */
  let lastId: number | null = null
  let again = false
  let running = false
  async function checkNow() {
    again = true
    if (running) return
    running = true
    while (again) {
      again = false
      const list = names.value
      const replaces = lastId
      const found = list.length
        ? await checking.act(() =>
            api.people.checkConflicts({
              terms: list.map((c) => ({ name: c.text, contactId: c.id })),
              ours: ours().flatMap((c) => (c ? [c.text] : [])),
              about: form.name,
              replaces,
            }),
          )
        : null
      // A check that failed is no check: what was found before is of other names, and is not shown as if it were of these.
      check.value = found
      lastId = found?.id ?? lastId
    }
    running = false
  }
  watch(names, checkNow)
  const undecided = computed(() => check.value?.hits.filter((h) => !h.decision).length ?? 0)
  return { check, checking, checkNow, undecided }
}
