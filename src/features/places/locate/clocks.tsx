'use client';

// The clocks of the cameras of the scope: zone and difference, typed, read off a reference photo, or fitted.

import { App, Button, Input, Select } from 'antd';
import { useMemo, useState } from 'react';
import { differenceText, parseDifference, trueTime } from '@/core/locate/clock';
import type { Fit } from '@/core/locate/fit';
import { type Placing, placedAt } from '@/core/search/placing';
import { parseCaptured } from '@/core/time/captured';
import { photos, plural } from '@/ui/format';
import { session } from '@/engine/session';
import { keepClock } from './keep-clock';
import styles from './locate.module.css';
import { ReferencePhoto } from './reference-photo';
import { RightDates } from './right-dates';
import type { Clock, Matching } from './use-matching';

const AS_WRITTEN = 'as-written';

/** All zones the system knows, and fixed offsets. */
const zoneOptions = (): { value: string; label: string }[] => [
  { value: AS_WRITTEN, label: 'as the camera wrote it' },
  ...Intl.supportedValuesOf('timeZone').map((zone) => ({ value: zone, label: zone })),
  ...Array.from({ length: 27 }, (_, at) => at - 12).map((hours) => {
    const offset = hours === 0 ? 'Z' : `${hours < 0 ? '-' : '+'}${String(Math.abs(hours)).padStart(2, '0')}:00`;
    return { value: offset, label: hours === 0 ? 'UTC' : `UTC ${offset}` };
  }),
];

export function Clocks({ placing, matching }: { placing: Placing; matching: Matching }) {
  const options = useMemo(zoneOptions, []);
  const shown = matching.clocks.filter(({ meetsTrack }) => meetsTrack);
  const others = matching.clocks.length - shown.length;
  return (
    <section className={styles.clocks} aria-label="Clocks">
      <h2>Clocks</h2>
      <ul>
        {shown.map((clock) => (
          <ClockLine
            key={placing.groups[clock.group]?.id}
            placing={placing}
            matching={matching}
            clock={clock}
            options={options}
          />
        ))}
      </ul>
      {others > 0 && <p className="quiet">{plural(others, 'camera')} of days without a track not listed.</p>}
    </section>
  );
}

function ClockLine({
  placing,
  matching,
  clock,
  options,
}: {
  placing: Placing;
  matching: Matching;
  clock: Clock;
  options: { value: string; label: string }[];
}) {
  const group = placing.groups[clock.group];
  const [typed, setTyped] = useState<string | null>(null);
  const { message } = App.useApp();
  const name = group?.camera || 'Camera not recorded';
  const setDifference = (text: string) => {
    const seconds = parseDifference(text);
    if (seconds === null) message.warning('A difference is written 1 h 3 min 20 s, or -1:03:20, or in seconds.');
    else void keepClock(placing, clock, () => ({ differenceSeconds: seconds }));
    setTyped(null);
  };
  return (
    <li className={styles.clock} aria-label={`Clock of ${name}, ${group?.shoot ?? ''}`}>
      <strong>{name}</strong>
      <span className="quiet">
        {photos(clock.photos)} of {group?.shoot || 'no folder'}
      </span>
      <label>
        Zone{' '}
        <Select
          size="small"
          showSearch
          value={clock.zone ?? AS_WRITTEN}
          options={options}
          aria-label={`Zone of the clock of ${name}`}
          onChange={(zone) => void keepClock(placing, clock, () => ({ zone: zone === AS_WRITTEN ? null : zone }))}
          popupMatchSelectWidth={220}
        />
      </label>
      <label>
        Correct by{' '}
        <Input
          size="small"
          value={typed ?? differenceText(clock.differenceSeconds)}
          aria-label={`Correct by, the clock of ${name}`}
          onChange={({ target }) => setTyped(target.value)}
          onPressEnter={({ currentTarget }) => setDifference(currentTarget.value)}
          onBlur={() => typed !== null && setDifference(typed)}
        />
      </label>
      <div className={styles.row}>
        <FitButton placing={placing} matching={matching} clock={clock} name={name} />
        <ReferencePhoto placing={placing} clock={clock} name={name} />
        <RightDates placing={placing} clock={clock} name={name} />
      </div>
    </li>
  );
}

const SURE = [
  [0.6, 'quite sure'],
  [0.25, 'likely'],
  [0, 'not sure: look at the map'],
] as const;

function FitButton({
  placing,
  matching,
  clock,
  name,
}: {
  placing: Placing;
  matching: Matching;
  clock: Clock;
  name: string;
}) {
  const [running, setRunning] = useState(false);
  const [found, setFound] = useState<{ positions: Fit | null; stops: Fit | null } | null>(null);
  const fit = async () => {
    setRunning(true);
    try {
      const asked = [...placing.ids.keys()].flatMap((at) => {
        if (placing.groupOf[at] !== clock.group) return [];
        const time = trueTime(parseCaptured(placing.captured[at] ?? ''), { zone: clock.zone, differenceSeconds: 0 });
        return time.state === 'known' ? [{ utcSeconds: time.utcSeconds, position: placedAt(placing, at) }] : [];
      });
      setFound(
        await session.locate.fit(
          asked,
          matching.used.map(({ track }) => track),
        ),
      );
    } finally {
      setRunning(false);
    }
  };
  const best = found?.positions ?? found?.stops;
  return (
    <>
      <Button
        size="small"
        loading={running}
        disabled={matching.used.length === 0}
        onClick={() => void fit()}
        aria-label={`Fit to the tracks: ${name}`}
      >
        Fit to the tracks
      </Button>
      {found && !best && (
        <p className="quiet">
          Nothing to go by: two photos of this camera that have a position, or ten that were taken where the track stood
          still.
        </p>
      )}
      {best && (
        <div className={styles.fit}>
          <span>
            {differenceText(best.differenceSeconds)}, {SURE.find(([from]) => best.sureness >= from)?.[1]}
          </span>
          <span className="quiet">
            {best.by === 'positions'
              ? `explains ${best.explained} of ${best.asked} placed photos, half of them within ${Math.round(best.medianM ?? 0)} m of the track`
              : `${best.explained} of ${best.asked} photos at stops of the track`}
          </span>
          <Button
            size="small"
            type="primary"
            onClick={() =>
              void keepClock(placing, clock, () => ({ differenceSeconds: best.differenceSeconds })).then(() =>
                setFound(null),
              )
            }
          >
            Take it
          </Button>
          <Button size="small" type="text" onClick={() => setFound(null)}>
            Leave it
          </Button>
        </div>
      )}
    </>
  );
}
