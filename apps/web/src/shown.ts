import { keepPreviousData, QueryClient, useQuery, type QueryFunction } from '@tanstack/vue-query'
import { computed, onMounted, ref, type ComputedRef, type Ref } from 'vue'
import { saidBy } from './said'

/**
 * What pages show of what the server holds, each answer under what was asked. Asked again whenever a page opens; until the new
 * answer comes, a page that was open within the last minutes stands there as it was. Nothing is kept past an act of the person or
 * a word that others changed something (`forget`), and nobody sees what another person was shown.
 */
export const answers = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 0,
      gcTime: 2 * 60_000,
      // A fault is said at once, and nothing waits for the browser's guess whether there is a network: the server may be on the same machine.
      retry: false,
      networkMode: 'always',
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
    },
  },
})

/** What no page shows at the moment is kept no longer. */
export const forget = () => answers.removeQueries({ type: 'inactive' })
/** Everything that is shown is asked again. */
export function lookAgain(): void {
  forget()
  void answers.invalidateQueries()
}

/** What hardly changes, such as what can be chosen from: asked once for all that want it, and not again for half a minute. */
export const recent = <T>(asked: { queryKey: readonly unknown[]; queryFn: QueryFunction<T> }): Promise<T> =>
  answers.fetchQuery({ ...asked, staleTime: 30_000 })

interface Question<T> {
  queryKey: readonly unknown[]
  queryFn?: (context: never) => T | Promise<T>
  gcTime?: number
}

/** Between two questions nothing is an answer of its own: what the one before showed does not stand in for the next. */
const nothing = { queryKey: ['nothing'], queryFn: () => null, initialData: null }

/**
 * What a page shows: asked by a route's `queryOptions`, and again when what it asks by changes or something was done. What was
 * there stays until the answer comes. Null asks nothing and shows nothing.
 */
export function useShown<T>(question: () => Question<T> | null): {
  data: ComputedRef<T | null>
  problem: ComputedRef<string>
  loading: Ref<boolean>
  /** What stands there still answers what was asked before: nothing is done to it as if it were what is asked now. */
  old: Ref<boolean>
  reload: () => Promise<void>
} {
  const asked = computed(question)
  // What is kept from before comes when the page stands, as an answer does: whoever watches for it hears of it.
  const stands = ref(false)
  onMounted(() => (stands.value = true))
  const query = useQuery<T>(
    () => ({
      ...((asked.value ?? nothing) as { queryKey: readonly unknown[]; queryFn: () => Promise<T> }),
      enabled: asked.value !== null,
      placeholderData: keepPreviousData,
      shallow: true,
    }),
    answers,
  )
  return saidBy(
    {
      data: computed(() => (stands.value && asked.value && query.data.value !== undefined ? (query.data.value as T) : null)),
      problem: computed(() => (asked.value && query.error.value ? query.error.value.message || 'This could not be loaded.' : '')),
      loading: query.isFetching,
      old: query.isPlaceholderData,
      reload: async () => void (asked.value && (await query.refetch())),
    },
    () => query.error.value,
  )
}
