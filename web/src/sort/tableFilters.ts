/** From and to, either open. */
export interface Span {
  readonly from: number | null;
  readonly to: number | null;
}

/** What was not measured lies in no span but the open one. */
export function isWithin(value: number | undefined, { from, to }: Span): boolean {
  if (from === null && to === null) return true;
  return value !== undefined && (from === null || value >= from) && (to === null || value <= to);
}

export const numberOrOpen = (text: string): number | null => {
  const value = Number(text.trim().replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
};
