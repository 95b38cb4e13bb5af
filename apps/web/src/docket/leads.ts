/** `10, 5, 1, 0` as numbers; what is no number is left for the server to refuse. */
export const readLeads = (text: string): number[] =>
  text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((w) => (/^\d+$/.test(w) ? Number(w) : -1))
export const showLeads = (leads: readonly number[]) => leads.join(', ')
