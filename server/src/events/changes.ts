/** What somebody who looks should ask for again. */
export type Change =
  | { readonly kind: 'shoots' }
  | { readonly kind: 'shoot'; readonly id: string }
  /** Of a prescription that was saved. */
  | { readonly kind: 'frame'; readonly id: string; readonly revision: number }
  | { readonly kind: 'renders' }
  /** The kept prescriptions. */
  | { readonly kind: 'kept' }
  | { readonly kind: 'rounds' }
  | { readonly kind: 'hand-offs' }
  | { readonly kind: 'round'; readonly id: string };

/** Tells whoever listens what has changed: nobody has to ask again and again. */
export class Changes {
  private readonly listeners = new Set<(change: Change) => void>();

  tell(change: Change): void {
    for (const listener of this.listeners) listener(change);
  }

  /** Returns how to stop listening. */
  listen(listener: (change: Change) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  get listening(): number {
    return this.listeners.size;
  }
}
