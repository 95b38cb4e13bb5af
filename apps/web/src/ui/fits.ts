/** Whether every word that was typed stands in a text. Nothing typed fits everything. */
export const fits = (typed: string, text: string): boolean =>
  typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.toLowerCase().includes(word))
