/** A React hook over a database query that runs again whenever what it read changes, in this tab or another. */
export { useLiveQuery as useLive } from 'dexie-react-hooks';
