import { inject, provide, type InjectionKey } from 'vue'

/** What a list shows as text by name: the filters of its page, and of the table itself its columns and order. */
export type ViewState = Record<string, string>

/** The filters of a page, as its lists keep them in views. */
export interface Filters {
  /** Those that are not as usual. */
  read: () => ViewState
  /** Shows what was kept; what it does not name is as usual. */
  choose: (state: ViewState) => void
}
const filtersOfPage: InjectionKey<Filters> = Symbol('filters of the page')

export const provideFilters = (filters: Filters) => provide(filtersOfPage, filters)
export const useFilters = () => inject(filtersOfPage, { read: () => ({}), choose: () => undefined })

/** A view as it was kept, whoever kept it and whenever: only text is taken of it. */
export function readView(state: string): ViewState {
  try {
    const found: unknown = JSON.parse(state)
    return typeof found === 'object' && found !== null
      ? Object.fromEntries(Object.entries(found).filter((e): e is [string, string] => typeof e[1] === 'string'))
      : {}
  } catch {
    return {}
  }
}
