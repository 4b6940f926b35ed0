// How long the interface tests wait for what is to come before they call it a failure.

/**
 * Two browsers share two cores, and a busy host may take nine tenths of those away for minutes (seen): no wait says how
 * fast something is, only that it comes. Speed is measured by the bench.
 */
export const PATIENCE_MS = 300_000;
