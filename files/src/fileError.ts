/** A file that cannot be used, with a sentence for the person: which limit, what was found. */
export class FileError extends Error {
  constructor(
    readonly code: string,
    sentence: string,
  ) {
    super(sentence);
    this.name = 'FileError';
  }
}
