/** Every refusal of core: a code for programs, a sentence for people that names what was expected and what came. */
export class CoreError extends Error {
  constructor(
    readonly code: string,
    sentence: string,
  ) {
    super(sentence);
    this.name = 'CoreError';
  }
}
