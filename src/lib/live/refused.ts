/** What an engine would refuse, in its words and with its number: said by what answers in its place. */
export class Refused extends Error {
  override readonly name = 'Refused'
  constructor(
    message: string,
    readonly code: number
  ) {
    super(message)
  }
}
