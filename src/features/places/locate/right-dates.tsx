'use client';

// The capture dates put right, as a change of its own. What the camera wrote stays in the file, and the clock then
// needs no correction any more.

import { App, Button, Popconfirm } from 'antd';
import type { FieldEdit } from '@/core/fields/edits';
import { planSet } from '@/core/fields/edits';
import { capturedIn } from '@/core/fields/values';
import { differenceText, rightedDate } from '@/core/locate/clock';
import type { Placing } from '@/core/search/placing';
import { photosOf } from '@/storage/catalog/describing';
import { photos } from '@/ui/format';
import { session } from '@/engine/session';
import { clockToBe } from './keep-clock';
import type { Clock } from './use-matching';

export function RightDates({ placing, clock, name }: { placing: Placing; clock: Clock; name: string }) {
  const { message } = App.useApp();
  const ids = placing.ids.filter((_, at) => placing.groupOf[at] === clock.group && placing.captured[at] !== '');
  const right = async () => {
    const edits: FieldEdit[] = (await photosOf(session.db, ids)).flatMap((photo) => {
      const captured = capturedIn(photo.fields);
      const date = captured && rightedDate(captured, clock);
      return date === null ? [] : planSet([photo], 'captured', date);
    });
    await session.change({
      kind: 'together',
      changes: [
        { kind: 'fields', origin: 'person', edits },
        {
          kind: 'kept',
          savedKind: 'clocks',
          before: clock.kept,
          after: clockToBe(placing, clock, clock.kept, { zone: null, differenceSeconds: 0 }),
        },
      ],
    });
    message.success(`The dates of ${photos(edits.length)} were put right`);
  };
  if (clock.differenceSeconds === 0 && clock.zone === null) return null;
  return (
    <Popconfirm
      title={`Put the dates of ${photos(ids.length)} right?`}
      description={`${differenceText(clock.differenceSeconds)}${clock.zone === null ? '' : `, in the zone ${clock.zone}`}. What the camera wrote stays in the file.`}
      okText="Put right"
      cancelText="Leave"
      onConfirm={() => void right()}
    >
      <Button size="small" aria-label={`Put its dates right…: ${name}`}>
        Put its dates right…
      </Button>
    </Popconfirm>
  );
}
