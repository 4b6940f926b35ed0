'use client';

// A photo of a clock, or of the receiver: what it shows is typed, and the difference follows.

import { Button, Input, Modal, Radio, Select } from 'antd';
import { useState } from 'react';
import { differenceShown, differenceText, differenceToUtc } from '@/core/locate/clock';
import type { Placing } from '@/core/search/placing';
import { clockSeconds, parseCaptured } from '@/core/time/captured';
import { usePreview } from '@/features/parts/picture/previews';
import { useSelection } from '@/features/parts/selection/selection';
import { keepClock } from './keep-clock';
import styles from './locate.module.css';
import type { Clock } from './use-matching';

export function ReferencePhoto({ placing, clock, name }: { placing: Placing; clock: Clock; name: string }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)} aria-label={`A photo of a clock…: ${name}`}>
        A photo of a clock…
      </Button>
      <Modal
        open={open}
        title={`What the clock of ${name} is off by`}
        footer={null}
        onCancel={() => setOpen(false)}
        destroyOnHidden
        width={620}
      >
        <Reading placing={placing} clock={clock} onDone={() => setOpen(false)} />
      </Modal>
    </>
  );
}

function Reading({ placing, clock, onDone }: { placing: Placing; clock: Clock; onDone: () => void }) {
  const own = [...placing.ids.keys()].filter(
    (at) => placing.groupOf[at] === clock.group && placing.captured[at] !== '',
  );
  const selected = useSelection((state) => state.focus);
  const [at, setAt] = useState(own.find((index) => placing.ids[index] === selected) ?? own[0]);
  const [shown, setShown] = useState(
    at === undefined ? '' : (placing.captured[at] ?? '').slice(0, 19).replace('T', ' '),
  );
  const [of, setOf] = useState<'clock' | 'receiver'>('clock');
  const preview = usePreview(at === undefined ? '' : (placing.ids[at] ?? ''));
  if (at === undefined) return <p>No photo of this camera has a time.</p>;
  const captured = parseCaptured(placing.captured[at] ?? '');
  const written = parseCaptured(shown.trim());
  const utc = clockSeconds(written);
  const seconds =
    !captured || !written || utc === null
      ? null
      : of === 'clock'
        ? differenceShown(captured, written)
        : differenceToUtc(captured, utc, clock.zone);
  return (
    <div className={styles.reading}>
      <Select
        showSearch
        optionFilterProp="label"
        value={at}
        onChange={setAt}
        aria-label="The photo"
        options={own.map((index) => ({
          value: index,
          label: `${placing.names[index]}, ${(placing.captured[index] ?? '').slice(0, 19).replace('T', ' ')}`,
        }))}
      />
      {preview && <img src={preview} alt="The photo of the clock" />}
      <Radio.Group
        value={of}
        onChange={({ target }) => setOf(target.value as 'clock' | 'receiver')}
        options={[
          { value: 'clock', label: 'a clock of the place' },
          { value: 'receiver', label: 'a receiver, in UTC' },
        ]}
      />
      <label>
        It shows{' '}
        <Input value={shown} onChange={({ target }) => setShown(target.value)} aria-label="What the clock shows" />
      </label>
      <p>
        {seconds === null
          ? 'A date and a time are wanted: 2026-08-30 11:03:20.'
          : `To be added to the camera’s clock: ${differenceText(seconds)}`}
      </p>
      <div className={styles.row}>
        <Button
          type="primary"
          disabled={seconds === null}
          onClick={() =>
            seconds !== null && void keepClock(placing, clock, () => ({ differenceSeconds: seconds })).then(onDone)
          }
        >
          Take it
        </Button>
      </div>
    </div>
  );
}
