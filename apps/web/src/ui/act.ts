/** What can be done to a row, or on a page. */
export interface Act {
  text: string
  act?: () => unknown
  /** A link within the application, or with `out` a file to be opened. */
  to?: string
  out?: boolean
  disabled?: boolean
}
