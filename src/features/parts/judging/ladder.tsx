'use client';

// The ladder: rejected, unrated, one to five, each rung with what it means to the person and how many photos of the
// scope stand on it. The photo that is looked at stands on its rung, and is moved there by a key, a click, or by hand.

import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { Button, Input } from 'antd';
import { useState } from 'react';
import type { SavedChange } from '@/core/catalog/change';
import { type LadderView as LadderRecord, NO_LADDER, RUNGS, RUNG_NAMES } from '@/core/sift/judging';
import { useLive } from '@/storage/catalog/live';
import { count } from '@/ui/format';
import { RatingBars } from '@/ui/rating-bars';
import { session } from '@/engine/session';
import styles from './judging.module.css';

interface Props {
  /** Photos of the scope by rung. */
  counts: (rung: number) => number;
  /** The rung of what is looked at; `null` where nothing is, or where it differs. */
  present: number | null;
  preview: string | null | undefined;
  onRung: (rung: number) => void;
}

export const useLadder = (): LadderRecord =>
  useLive(async () => (await session.db.ladder.get('ladder')) ?? NO_LADDER) ?? NO_LADDER;

export function Ladder({ counts, present, preview, onRung }: Props) {
  const ladder = useLadder();
  const [editing, setEditing] = useState(false);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const drop = ({ over }: DragEndEvent) => over && onRung(Number(over.id));
  return (
    <section className={styles.ladder} aria-label="Ladder">
      <h2>
        Ladder{' '}
        <Button size="small" type="text" onClick={() => setEditing((now) => !now)} aria-pressed={editing}>
          {editing ? 'Done' : 'Meanings…'}
        </Button>
      </h2>
      <DndContext sensors={sensors} onDragEnd={drop}>
        <ol>
          {RUNGS.map((rung) => (
            <Rung
              key={rung}
              rung={rung}
              here={present === rung}
              preview={preview}
              number={counts(rung)}
              onRung={onRung}
            >
              {editing ? (
                <Meaning ladder={ladder} rung={rung} />
              ) : (
                <span className={ladder.meanings[rung] ? styles.meaning : styles.unsaid}>
                  {ladder.meanings[rung] ?? RUNG_NAMES[rung]}
                </span>
              )}
            </Rung>
          ))}
        </ol>
      </DndContext>
    </section>
  );
}

/** The key that sets a rung, where it is not its digit. */
const KEYS: Readonly<Record<number, string>> = { [-1]: 'Q' };

interface RungProps {
  rung: number;
  here: boolean;
  preview: string | null | undefined;
  number: number;
  onRung: (rung: number) => void;
  children: React.ReactNode;
}

function Rung({ rung, here, preview, number, onRung, children }: RungProps) {
  const { setNodeRef, isOver } = useDroppable({ id: rung });
  return (
    <li ref={setNodeRef} className={styles.rung} data-here={here} data-over={isOver}>
      <button
        type="button"
        className={styles.rungButton}
        onClick={() => onRung(rung)}
        aria-pressed={here}
        aria-label={`Rung ${RUNG_NAMES[rung]}, key ${KEYS[rung] ?? rung}`}
      >
        <kbd className={styles.rungKey}>{KEYS[rung] ?? rung}</kbd>
        <RatingBars rating={rung} size="large" />
      </button>
      <div className={styles.rungWords}>{children}</div>
      <span className={styles.rungCount}>{count(number)}</span>
      {here && <Token preview={preview} />}
    </li>
  );
}

/** The photo itself, small: to be taken to another rung. */
function Token({ preview }: { preview: string | null | undefined }) {
  const { setNodeRef, listeners, transform } = useDraggable({ id: 'present' });
  return (
    <div
      ref={setNodeRef}
      className={styles.token}
      {...listeners}
      style={transform ? { transform: `translate3d(${transform.x}px, ${transform.y}px, 0)` } : undefined}
      title="Take it to another rung"
    >
      {preview && <img src={preview} alt="" draggable={false} />}
    </div>
  );
}

function Meaning({ ladder, rung }: { ladder: LadderRecord; rung: number }) {
  const save = (text: string) => {
    if (text === (ladder.meanings[rung] ?? '')) return;
    const meanings: Record<string, string> = { ...ladder.meanings, [rung]: text };
    if (text === '') delete meanings[String(rung)];
    const change: SavedChange = {
      kind: 'kept',
      savedKind: 'ladder',
      before: ladder.updatedAt === 0 ? null : ladder,
      after: { ...ladder, meanings, updatedAt: Date.now(), deleted: false },
    };
    void session.change(change);
  };
  return (
    <Input
      size="small"
      defaultValue={ladder.meanings[rung] ?? ''}
      placeholder={`What ${RUNG_NAMES[rung]} means to you`}
      aria-label={`Meaning of rung ${RUNG_NAMES[rung]}`}
      onBlur={(event) => save(event.target.value.trim())}
      onPressEnter={(event) => save(event.currentTarget.value.trim())}
    />
  );
}
