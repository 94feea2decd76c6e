/** The audit holds a recovery against a cautious one that trusts the photograph less, and stops early. */
export const CAUTIOUS_ITERATIONS = 8;
/** By so much on the noise guard: half as much trust. */
export const CAUTIOUS_GUARD = 10;
/** A fitted blur that explains less of a change says nothing about the rest. */
export const LEAST_TAKEN_BACK = 0.6;
