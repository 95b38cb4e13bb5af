/** Set in by how many accounts stand above it in the chart. */
export const inset = (r: { depth: number }) => (r.depth ? { paddingLeft: `${r.depth * 1.25}rem` } : {})
