'use client';

// Looking back: this day in other years, ten years ago, the best that was never sent out. The rules are smart
// collections in a folder of that name, once the person changes them; until then these are shown.

import { Button } from 'antd';
import Link from 'next/link';
import { plainly } from '@/core/search/search-record';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { count } from '@/ui/format';
import { makeCollection } from '@/features/parts/collections/use-collections';
import { ThumbStrip } from '@/features/parts/picture/thumb-strip';
import { findAddress } from '@/features/parts/search/use-scope';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './overview.module.css';

interface LookBackRule {
  name: string;
  scope: string;
}

/** The folder that has the person's own. */
const FOLDER = 'Look back';
const RULES: readonly LookBackRule[] = [
  { name: 'This day in other years', scope: 'taken:this-day -taken:this-year' },
  { name: 'Ten years ago', scope: 'taken:10-years-ago rating:1.. sort:rating' },
  { name: 'The best that was never sent', scope: 'rating:5 -sent:any' },
];
const THUMBS = 10;

export function LookBack() {
  const own = useLive(ownRules);
  const rules = own ?? RULES;
  const keep = async () => {
    const parentId = await makeCollection(FOLDER, 'folder');
    if (parentId) for (const { name, scope } of RULES) await makeCollection(name, 'smart', { parentId, scope });
  };
  return (
    <section className={styles.panel} aria-label="Look back">
      <header>
        <h2>Look back</h2>
        {own === null && (
          <Button size="small" type="text" onClick={() => void keep()}>
            Make them yours…
          </Button>
        )}
      </header>
      {rules.map((rule) => (
        <Found key={rule.name + rule.scope} rule={rule} />
      ))}
      {own !== null && own !== undefined && (
        <p className="quiet">These are the smart collections of the folder “{FOLDER}”: change them in Find.</p>
      )}
    </section>
  );
}

function Found({ rule: { name, scope } }: { rule: LookBackRule }) {
  const found = useAsked(`back ${scope}`, () => session.search.search(plainly(scope)), 400)?.answer;
  const photos = found?.order.length ?? 0;
  if (photos === 0) return null;
  const ids = Array.from({ length: Math.min(THUMBS, photos) }, (_, at) => found?.order.at(at) ?? '');
  return (
    <>
      <h3>
        <Link href={findAddress(scope)}>{name}</Link> <span className="quiet">{count(photos)}</span>
      </h3>
      <ThumbStrip label={name} scope={scope} photoIds={ids} />
    </>
  );
}

/** `null` while there is no such folder. */
async function ownRules(): Promise<LookBackRule[] | null> {
  const all = (await session.db.collections.toArray()).filter(({ deleted }) => !deleted);
  const folder = all.find(({ kind, name }) => kind === 'folder' && name === FOLDER);
  if (!folder) return null;
  return all
    .filter(({ kind, parentId }) => kind === 'smart' && parentId === folder.id)
    .sort((a, b) => a.order - b.order || a.name.localeCompare(b.name));
}
