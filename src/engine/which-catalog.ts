// Which catalog this browser has open: the person's own, or that of the demo. Each has its own database, so that they
// never mix; the demo's is removed as a whole, with its practice drives.

import { isRestoredName } from '@/storage/catalog/backup';
import { CatalogDatabase } from '@/storage/catalog/database';
import { removeIndex } from '@/workers/kept-index';
import { removePracticeDrives } from '@/storage/connections/practice';

export type Which = 'own' | 'demo';

const DATABASE: Record<Which, string> = { own: 'wembo', demo: 'wembo-demo' };
const OPEN = 'wembo-catalog';
/** The one that was made of a backup and is used in its place. */
const RESTORED: Record<Which, string> = { own: 'wembo-restored', demo: 'wembo-demo-restored' };
/** Set while a demo that was left has not been removed yet. */
const LEFT = 'wembo-demo-left';

const kept = (key: string): string | null => (typeof localStorage === 'undefined' ? null : localStorage.getItem(key));

export const whichCatalog = (): Which => (kept(OPEN) === 'demo' ? 'demo' : 'own');

const restoredName = (): string | null => {
  const name = kept(RESTORED[whichCatalog()]);
  return name !== null && isRestoredName(name) ? name : null;
};

export const catalogName = (): string => restoredName() ?? DATABASE[whichCatalog()];

/** From now on this restored catalog is in the place of the first; the first one where none is named. */
export function openRestored(name: string | null): void {
  const key = RESTORED[whichCatalog()];
  if (name === null) localStorage.removeItem(key);
  else localStorage.setItem(key, name);
  location.assign('/');
}

/** Never the one that is open. */
export async function deleteRestored(name: string): Promise<void> {
  if (!isRestoredName(name) || name === catalogName()) throw new Error(`${name} is not to be deleted`);
  await new CatalogDatabase(name).delete();
  await removeIndex(name);
}

/** Opens the other catalog: the page begins anew with it. */
export function openDemo(): void {
  localStorage.setItem(OPEN, 'demo');
  location.assign('/');
}

/** Back to one's own catalog. The demo is removed when the page has begun anew and nothing of it is open any more. */
export function leaveDemo(): void {
  localStorage.removeItem(OPEN);
  localStorage.removeItem(RESTORED.demo);
  localStorage.setItem(LEFT, 'yes');
  location.assign('/');
}

export async function removeLeftDemo(): Promise<void> {
  if (whichCatalog() !== 'own' || kept(LEFT) === null) return;
  await new CatalogDatabase(DATABASE.demo).delete();
  await removePracticeDrives();
  await removeIndex(DATABASE.demo);
  localStorage.removeItem(LEFT);
}
