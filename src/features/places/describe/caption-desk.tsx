'use client';

// Captions one after the other: the picture large, its words beside it. Ctrl+Enter keeps what was typed and goes to the
// next photo, whose first blank is then selected.

import { Button } from 'antd';
import { useEffect, useMemo } from 'react';
import { planSet } from '@/core/fields/edits';
import { summarise } from '@/core/fields/common-values';
import { hasOpenBlank } from '@/core/describe/blanks';
import { type FieldKey, fieldOf } from '@/core/fields/registry';
import { NO_PHOTOS } from '@/core/search/photo-order';
import { useLive } from '@/storage/catalog/live';
import { count, photos as photosWords } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { KeywordLine } from '@/features/parts/describing/keyword-line';
import { KitsButton } from '@/features/parts/describing/kit-drawer';
import { PictureStage } from '@/features/parts/picture/picture-stage';
import { altOf, captureLine } from '@/features/parts/picture/picture-words';
import { useAtHand } from '@/features/parts/picture/pictures';
import { FieldLine } from '@/features/parts/record-card/field-line';
import { useResult } from '@/features/parts/search/use-result';
import { recordsOf } from '@/engine/selected-photos';
import { selectOnly, stepFocus, useSelection } from '@/features/parts/selection/selection';
import { useRecordsAhead } from '@/features/parts/search/use-records-ahead';
import { session } from '@/engine/session';
import styles from './describe.module.css';
import { PeopleOffered } from './people-offered';

const FIELDS_HERE: readonly FieldKey[] = ['headline', 'caption', 'personShown', 'captionWriter'];
const AHEAD = [1, 2, -1];

export function CaptionDesk() {
  const result = useResult((state) => state.result);
  const of = useResult((state) => state.of);
  const focus = useSelection((state) => state.focus);
  const order = result?.order ?? NO_PHOTOS;
  const at = order.indexOf(focus);
  const photoId = at >= 0 ? focus : (order.at(0) ?? null);
  const shown = useMemo(() => new Set(photoId === null ? [] : [photoId]), [photoId]);
  const [same] = useRecordsAhead(shown);
  const place = Math.max(0, at);
  useEffect(() => {
    if (photoId !== null && focus !== photoId) selectOnly(photoId);
  }, [photoId, focus]);
  const go = (by: number) => stepFocus(order, by);
  useKeys({ a: () => go(-1), ArrowLeft: () => go(-1), d: () => go(1), ArrowRight: () => go(1) });
  const near = AHEAD.flatMap((step) => order.at(place + step) ?? []);
  useAtHand(photoId === null ? [] : [photoId, ...near].map((id) => ({ id, sizes: ['preview', 'screen'] })));
  const summary = useMemo(() => (same ? summarise([same]) : null), [same]);
  if (!result) return <p className={styles.note}>Opening the catalog…</p>;
  if (photoId === null)
    return <p className={styles.note}>No photo fits the search. What is left to do stands at the left.</p>;
  const ids = [photoId];
  return (
    <section className={styles.captions} aria-label="Captions">
      <div className={styles.stage}>
        <div className={styles.room}>
          <PictureStage photoId={photoId} photo={same} words={altOf(same)} />
        </div>
        <p className={styles.under}>
          <span className="mono">{captureLine(same)}</span>
        </p>
      </div>
      <div className={styles.words}>
        <header className={styles.wordsHead}>
          <Button size="small" type="text" onClick={() => go(-1)} disabled={place === 0} aria-label="Photo before">
            ←
          </Button>
          <span className="mono">
            {count(place + 1)} of {count(order.length)}
          </span>
          <Button
            size="small"
            type="text"
            onClick={() => go(1)}
            disabled={place >= order.length - 1}
            aria-label="Next photo"
          >
            →
          </Button>
          <span className={styles.push} />
          {same && hasOpenBlank(same.fields) && <span className={styles.open}>blanks open</span>}
          <KitsButton ids={ids} />
        </header>
        {summary && same && (
          <>
            {FIELDS_HERE.map((key) => (
              <FieldLine
                key={key}
                row={fieldOf(key)}
                shared={summary.fields[key]}
                photoIds={ids}
                origin={null}
                {...(key === 'caption' && { enterOn: `${photoId} ${of ?? ''}` })}
              />
            ))}
            <PeopleOffered photo={same} />
            <KeywordLine key={photoId} words={summary.keywords} photoIds={ids} origin={null} />
            <Copying photoId={photoId} before={order.at(place - 1)} />
            <p className={styles.hint}>
              <kbd>Ctrl+Enter</kbd> keeps the words and goes to the next photo. <kbd>Tab</kbd> grows a shorthand code or
              goes to the next blank.
            </p>
          </>
        )}
      </div>
    </section>
  );
}

/** Words from the photo before; words for the whole set. */
function Copying({ photoId, before }: { photoId: string; before: string | undefined }) {
  const inSet = useLive(async () => (await session.search.setsOf([photoId]))[0]?.ids ?? [], [photoId]) ?? [];
  const copied: FieldKey[] = ['headline', 'caption', 'personShown'];
  const put = async (from: string, to: readonly string[]) => {
    const [source] = await recordsOf([from]);
    if (!source) return;
    const photos = await recordsOf(to);
    await session.change({
      kind: 'fields',
      origin: 'person',
      edits: copied.flatMap((key) => planSet(photos, key, source.fields[key])),
    });
  };
  return (
    <div className={styles.copying}>
      {before !== undefined && (
        <Button size="small" onClick={() => void put(before, [photoId])}>
          Headline, caption and people from the photo before
        </Button>
      )}
      {inSet.length > 1 && (
        <Button
          size="small"
          onClick={() =>
            void put(
              photoId,
              inSet.filter((id) => id !== photoId),
            )
          }
        >
          Give them to its set ({photosWords(inSet.length - 1)} more)
        </Button>
      )}
    </div>
  );
}
