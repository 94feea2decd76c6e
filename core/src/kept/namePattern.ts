/** What may stand in braces in the pattern of a saved copy's name. */
export const NAME_TOKENS = ['frame', 'stage', 'counter', 'date', 'prescription'] as const;
export type NameToken = (typeof NAME_TOKENS)[number];

export const USUAL_NAME_PATTERN = '{frame}-{prescription}';
export const MOST_PATTERN = 120;

/** Everything that file systems or shells stumble over. */
const UNSAFE = /[\\/:*?"<>|\p{Cc}]+/gu;

/** Null where a pattern is good; else what is wrong with it. */
export function patternFault(pattern: string): string | null {
  const unknown = [...pattern.matchAll(/\{([^{}]*)\}/g)].map(([, token]) => token).find((token) => !isToken(token));
  if (unknown !== undefined) {
    return `{${unknown}} is not known: ${NAME_TOKENS.map((token) => `{${token}}`).join(', ')}.`;
  }
  if (pattern.replace(/\{[^{}]*\}/g, '').match(/[{}]/)) return 'A brace is not closed.';
  if (!pattern.trim()) return 'Give a pattern for the names.';
  if (!/\{(frame|counter)\}/.test(pattern)) return 'With {frame} or {counter} the names differ from frame to frame.';
  return pattern.length > MOST_PATTERN ? `At most ${MOST_PATTERN} letters.` : null;
}

const isToken = (token: string): token is NameToken => (NAME_TOKENS as readonly string[]).includes(token);

/** The name, without ending, of one saved copy. */
export function nameFrom(pattern: string, values: Readonly<Record<NameToken, string>>): string {
  const name = pattern.replace(/\{([^{}]*)\}/g, (all, token: string) => (isToken(token) ? values[token] : all));
  return name.replace(UNSAFE, '-').replace(/^[.\s]+|[.\s]+$/g, '') || 'frame';
}
