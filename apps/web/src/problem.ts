/** What the server said when it refused, in words for the person; fields name where. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly fields: { path: string; message: string }[],
  ) {
    super(message)
  }
}
