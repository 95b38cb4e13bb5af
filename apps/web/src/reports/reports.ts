import type { ReportKey, ReportWhat } from '@heron/contract'

/** Reports that share one page, in the order in which they are offered, and what each is asked with. */
export const reports: { key: ReportKey; name: string; asks: ('span' | 'by' | 'days')[] }[] = [
  { key: 'unbilled', name: 'Unbilled by age', asks: [] },
  { key: 'trust', name: 'Trust against work', asks: [] },
  { key: 'retainers', name: 'Retainers', asks: [] },
  { key: 'matters', name: 'Matters by court, area, stage or lead', asks: ['by'] },
  { key: 'idle', name: 'Matters without activity', asks: ['days'] },
  { key: 'budget', name: 'Budget against actual', asks: [] },
  { key: 'profit', name: 'Profit by matter', asks: ['span'] },
  { key: 'trial', name: 'Days to trial', asks: [] },
  { key: 'funding', name: 'Hours by funding source', asks: ['span'] },
  { key: 'originating', name: 'Originating credit', asks: ['span'] },
  { key: 'delays', name: 'Days from work to money', asks: ['span'] },
]
export const whatNames = (what: ReportWhat): string =>
  what === 'weeks' ? 'Week by timekeeper' : what === 'flow' ? 'Work to money' : (reports.find((r) => r.key === what)?.name ?? what)

/** Said on every page of figures, whether or not anything is kept from the reader: it tells nothing of what is. */
export const overOpen = 'Over the matters whose money is open to you'
/** The address of a report as a file. */
export function fileActs(what: ReportWhat, query: Record<string, string | number | null | undefined>) {
  return (['xlsx', 'csv', 'pdf'] as const).map((format) => {
    const all = new URLSearchParams({ what, format })
    for (const [k, v] of Object.entries(query)) if (v !== null && v !== undefined && v !== '') all.set(k, String(v))
    return { text: { pdf: 'PDF', xlsx: 'Workbook (XLSX)', csv: 'CSV' }[format], to: `/api/oversight/file?${all}`, out: true }
  })
}
