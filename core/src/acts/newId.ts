/** Makes a name that nothing has yet: acts are pure, so whoever acts brings it along. */
export type NewId = () => string;
