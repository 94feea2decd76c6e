/** For whatever a person adds. */
export const newId = (): string => crypto.randomUUID();
